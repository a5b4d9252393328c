import { Unplug } from "lucide-react";
import type { Source } from "@/core/api/client";
import { awayWords } from "./away";
import { useGear } from "./known";

/** In the list of sources: one line, only where what a source takes is away. */
export function AwayLine({ source }: { source: Source }) {
  const gear = useGear().data;
  const words = gear && awayWords(gear, source.input);
  if (!words) return null;
  return (
    <p
      role="status"
      className="mt-0.5 flex items-center gap-1 text-[11px] text-wrong"
      title={`${words}. It rejoins by itself.`}
    >
      <Unplug size={12} className="shrink-0" aria-hidden="true" />
      <span className="truncate">{words}</span>
    </p>
  );
}
