import { useMemo } from "react";
import type { Pad, StoredSound } from "@/core/api/client";
import { columnsOf, outlineOf } from "./waveform";

/** A pad's waveform as its body; what has sounded of it fills with light. Its holder sets `--part`. */
export function PadBody({
  pad,
  sound,
  points = 48,
}: {
  pad: Pick<Pad, "begin" | "end" | "look">;
  sound: Pick<StoredSound, "seconds" | "columns"> | undefined;
  points?: number;
}) {
  const outline = useMemo(() => {
    if (!sound) return null;
    const length = sound.seconds * 1000;
    return outlineOf(columnsOf(sound), Math.min(1, pad.begin / length), Math.min(1, pad.end / length), points);
  }, [pad.begin, pad.end, sound, points]);
  return (
    <svg viewBox="0 0 100 100" preserveAspectRatio="none" aria-hidden="true" className="h-full w-full">
      {outline ? (
        <>
          <path d={outline} fill={`var(--source-${pad.look.color})`} opacity={0.75} />
          <path d={outline} fill="var(--lamp)" className="pad-light" />
        </>
      ) : (
        <path d="M0 50H100" stroke="var(--strong)" strokeDasharray="3 3" vectorEffect="non-scaling-stroke" />
      )}
    </svg>
  );
}
