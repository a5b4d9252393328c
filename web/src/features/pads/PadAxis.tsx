import type { Pad, PadLoudness, Show } from "@/core/api/client";
import { decimal, signed } from "@/shared/look/format";
import { SourceSign, shapes } from "@/shared/look/sources";

/** The loudness that the Desk's lanes show, LUFS. */
const [from, to] = [-60, -6];
const share = (lufs: number) => Math.min(1, Math.max(0, (lufs - from) / (to - from))) * 100;

/** Where a pad's loudest moment stands for each listener, on the Desk's axis, beside the voice. */
export function PadAxis({ show, pad, loudness }: { show: Show; pad: Pad; loudness: PadLoudness | undefined }) {
  if (!loudness) return <p className="text-xs text-quiet">Being measured …</p>;
  if (loudness.momentary === null) return <p className="text-xs text-quiet">Nothing of it can be heard.</p>;
  if (loudness.mixes.length === 0)
    return <p className="text-xs text-quiet">No listener hears it: its source is docked or muted everywhere.</p>;
  const speakers = new Set(loudness.mixes.map((m) => m.speaker));
  const voices = show.sources.filter((s) => speakers.has(s.id)).map((s) => s.name);
  const isGuessed = loudness.mixes.some((m) => m.speaker === null);
  return (
    <div>
      <ul className="flex flex-col gap-1.5">
        {loudness.mixes.map((m) => {
          const mix = show.mixes.find((x) => x.id === m.mix);
          const voice = show.sources.find((s) => s.id === m.speaker);
          return (
            <li key={m.mix} className="text-xs">
              <span className="flex justify-between gap-2">
                <span className="truncate">{mix?.name}</span>
                <span className="shrink-0 text-quiet tabular-nums">
                  {decimal(m.pad)} LUFS · {signed(m.pad - m.voice)} LU
                </span>
              </span>
              <span className="relative mt-0.5 block h-5 rounded bg-ground" aria-hidden="true">
                <span
                  className="absolute top-0 h-full w-px bg-quiet"
                  style={{ left: `${share(m.voice)}%` }}
                  title="The voice"
                />
                <span className="absolute top-0.5 -translate-x-1/2" style={{ left: `${share(m.voice)}%` }}>
                  {voice ? <SourceSign source={voice} size={15} /> : <Hollow />}
                </span>
                <span className="absolute top-0.5 -translate-x-1/2" style={{ left: `${share(m.pad)}%` }}>
                  <SourceSign source={pad} size={15} />
                </span>
              </span>
            </li>
          );
        })}
      </ul>
      <p className="mt-1 text-xs text-quiet">
        LU against the voice{voices.length > 0 ? `: ${voices.join(", ")}` : ""}, the loudest that is heard there.
      </p>
      {isGuessed && (
        <p className="mt-1 text-xs text-quiet">
          Where nobody has spoken yet, the mix’s target stands for the voice (hollow).
        </p>
      )}
    </div>
  );
}

function Hollow() {
  return (
    <svg width={15} height={15} viewBox="-11 -11 22 22" aria-hidden="true">
      <path d={shapes[0]} fill="none" stroke="var(--quiet)" strokeWidth={2} strokeDasharray="4 3" />
    </svg>
  );
}
