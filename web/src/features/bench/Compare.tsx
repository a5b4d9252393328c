import type { Loop, Variant, VariantMeasures } from "@/core/api/client";
import { decimal, signed } from "@/shared/look/format";
import { LoopPicture } from "./LoopPicture";
import { plain, useMeasures, usePicture } from "./loops";

interface Props {
  show: string;
  loop: Loop;
  variant: Variant | undefined;
  position: { share: number };
  color: string;
}

/** The sound before over the sound after, in step, and what is measured of all variants. */
export function Compare({ show, loop, variant, position, color }: Props) {
  const measures = useMeasures(show, loop);
  const before = usePicture(show, loop, plain);
  const after = usePicture(show, loop, variant?.id ?? plain);
  return (
    // biome-ignore lint/a11y/noNoninteractiveTabindex: what scrolls is scrolled with the keys, too
    <section aria-label="Compared" tabIndex={0} className="flex min-h-0 grow flex-col gap-3 overflow-auto p-3">
      <div className="grid min-h-64 grow grid-rows-2 gap-2">
        <LoopPicture
          label="Without: its waveform and its spectrogram"
          words="Without"
          picture={before}
          position={position}
          color={color}
          seconds={loop.seconds}
        />
        <LoopPicture
          label={`${variant?.name ?? "Without"}: its waveform and its spectrogram`}
          words={variant?.name ?? "Without"}
          picture={after}
          position={position}
          color={color}
          seconds={loop.seconds}
        />
      </div>
      <Measures loop={loop} measures={measures} chosen={variant?.id ?? plain} />
    </section>
  );
}

const columns = [
  { key: "loudness", words: "Loudness", unit: "LUFS", hint: "Programme loudness (ITU-R BS.1770)" },
  { key: "range", words: "Range", unit: "LU", hint: "How far soft and loud are apart: less is more even" },
  { key: "floor", words: "Noise floor", unit: "dBFS", hint: "What is left where nobody speaks" },
  { key: "peak", words: "Peak", unit: "dBTP", hint: "The highest true peak" },
  { key: "sibilance", words: "Sibilance", unit: "dB", hint: "The sharp sounds, 5 to 10 kHz, over the voice" },
  { key: "tilt", words: "Tilt", unit: "dB/octave", hint: "How bright: less negative is brighter" },
] as const;

function Measures({ loop, measures, chosen }: { loop: Loop; measures: VariantMeasures[] | undefined; chosen: string }) {
  const first = measures?.find((m) => m.variant === plain);
  const rows = [{ id: plain, name: "Without" }, ...loop.variants];
  return (
    // biome-ignore lint/a11y/noNoninteractiveTabindex: what scrolls is scrolled with the keys, too
    <section aria-label="What is measured" tabIndex={0} className="shrink-0 overflow-x-auto">
      <table className="w-full text-[13px]">
        <caption className="sr-only">
          What is measured of each, and by how much it differs from the sound without
        </caption>
        <thead>
          <tr className="text-left text-xs text-quiet">
            <th scope="col" className="py-1 pr-3 font-normal">
              {measures ? "Measured" : "Measuring …"}
            </th>
            {columns.map((c) => (
              <th key={c.key} scope="col" title={c.hint} className="py-1 pr-3 text-right font-normal whitespace-nowrap">
                {c.words} {c.unit}
              </th>
            ))}
            <th
              scope="col"
              title="What makes all equally loud on the bench, so that louder does not win"
              className="py-1 text-right font-normal whitespace-nowrap"
            >
              Made up dB
            </th>
          </tr>
        </thead>
        <tbody>
          {rows.map((row) => {
            const measured = measures?.find((m) => m.variant === row.id);
            return (
              <tr key={row.id} className={`border-line border-t ${row.id === chosen ? "bg-raised" : ""}`}>
                <th scope="row" className="max-w-48 truncate py-1 pr-3 text-left font-medium">
                  {row.name}
                </th>
                {columns.map(({ key }) => (
                  <td key={key} className="py-1 pr-3 text-right whitespace-nowrap tabular-nums">
                    {number(measured?.[key])}
                    {row.id !== plain && (
                      <span className="ml-1.5 inline-block w-10 text-xs text-quiet">
                        {difference(measured?.[key], first?.[key])}
                      </span>
                    )}
                  </td>
                ))}
                <td className="py-1 text-right tabular-nums">{measured ? signed(measured.gain) : "…"}</td>
              </tr>
            );
          })}
        </tbody>
      </table>
    </section>
  );
}

const number = (value: number | null | undefined) => (value == null ? "–" : decimal(value));
const difference = (value: number | null | undefined, from: number | null | undefined) =>
  value == null || from == null || Math.abs(value - from) < 0.05 ? "" : signed(value - from);
