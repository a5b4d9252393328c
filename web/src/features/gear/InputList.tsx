import type { GearDevice } from "@/core/api/client";
import { Button } from "@/shared/ui/Button";
import { Level } from "@/shared/ui/Level";
import { Word } from "@/shared/ui/Word";
import { pluggedWords } from "./candidates";
import { useChangeInput } from "./gear";

const gains = [0, 6, 12, 20, 26, 30, 34, 40, 46, 52, 58, 64, 70];

/** The inputs of a device one by one: what is plugged in, the device's own gain and low cut, shown or hidden. */
export function InputList({ device }: { device: GearDevice }) {
  const change = useChangeInput();
  return (
    <ul aria-label={`Inputs of ${device.name}`} className="mt-1 mb-1 flex flex-col gap-0.5 border-line border-l pl-3">
      {device.inputs.map((input, c) => {
        const set = (values: Parameters<typeof change.mutate>[0]["change"]) =>
          change.mutate({ device: device.id, input: c, change: values });
        return (
          // biome-ignore lint/suspicious/noArrayIndexKey: an input is its place
          <li key={c} className="flex flex-wrap items-center gap-x-2.5 text-[13px] leading-6">
            <Level points={[`device/${device.id}/in#${c}`]} flat />
            <span className={input.isExposed ? "" : "text-quiet"}>
              {input.name} takes {pluggedWords(input.plugged) ?? "nothing yet"}
              {typeof input.gain === "number" && (
                <>
                  {" "}
                  at{" "}
                  <Word
                    label={`Gain of input ${input.name} of ${device.name}`}
                    words={`${input.gain} dB`}
                    title={input.neededGain > 0 ? `What is plugged in needs about ${input.neededGain} dB` : undefined}
                    items={[...new Set([...gains, input.gain])]
                      .sort((a, b) => a - b)
                      .map((gain) => ({
                        words: `${gain} dB`,
                        chosen: gain === input.gain,
                        onSelect: () => set({ gain }),
                      }))}
                  />
                </>
              )}
              {typeof input.lowCut === "boolean" && (
                <>
                  , low cut{" "}
                  <Word
                    label={`Low cut of input ${input.name} of ${device.name}`}
                    words={input.lowCut ? "on" : "off"}
                    items={[true, false].map((lowCut) => ({
                      words: lowCut ? "on: 80 Hz, in the device" : "off",
                      chosen: lowCut === input.lowCut,
                      onSelect: () => set({ lowCut }),
                    }))}
                  />
                </>
              )}
              .
            </span>
            <Button
              small
              tone="quiet"
              className="h-6"
              aria-label={`${input.isExposed ? "Hide" : "Show"} input ${input.name} of ${device.name}`}
              onClick={() => set({ isExposed: !input.isExposed })}
            >
              {input.isExposed ? "Hide" : "Show"}
            </Button>
          </li>
        );
      })}
    </ul>
  );
}
