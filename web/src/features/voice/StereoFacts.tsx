import { useState } from "react";
import { useStereo } from "./looks";
import { type Stereo, wordsOf } from "./stereo";

/** How left and right belong together as they come in and go out, in words. */
export function StereoFacts({ before, after }: { before: string; after: string }) {
  return (
    <dl className="grid shrink-0 grid-cols-[auto_1fr] gap-x-3 text-[13px] tabular-nums">
      <Fact name="Goes in" point={before} />
      <Fact name="Comes out" point={after} />
    </dl>
  );
}

function Fact({ name, point }: { name: string; point: string }) {
  const [now, setNow] = useState<Stereo | null>(null);
  useStereo(point, setNow);
  return (
    <>
      <dt className="text-quiet">{name}</dt>
      <dd>{now === null ? "…" : wordsOf(now)}</dd>
    </>
  );
}
