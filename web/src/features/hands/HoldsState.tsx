import { MicOff } from "lucide-react";
import { Hint } from "@/shared/ui/Hint";
import { useEndHolds, useHands } from "./hands";

/** While a microphone coughs or speaks to one listener alone: who holds it or not, it is said in every window, and can be ended there. */
export function HoldsState() {
  const holds = useHands().data?.holds ?? [];
  const end = useEndHolds();
  const first = holds[0];
  if (!first) return null;
  const leaks = holds.flatMap((h) => h.leaks);
  return (
    <Hint text={[...holds.map((h) => `${h.words}.`), ...leaks, "Press to end it."].join(" ")}>
      <button
        type="button"
        onClick={() => end.mutate()}
        className={`flex max-w-72 shrink items-center gap-1.5 rounded-md border px-2 py-1 text-[13px] ${leaks.length > 0 ? "border-wrong" : "border-lamp"}`}
      >
        <MicOff size={15} className={`shrink-0 ${leaks.length > 0 ? "text-wrong" : "text-lamp"}`} aria-hidden="true" />
        <span role="status" className="truncate max-md:sr-only">
          {first.words}
          {holds.length > 1 && `, and ${holds.length - 1} more`}
          {leaks.length > 0 && ` · ${leaks.length === 1 ? "1 way leads past it" : `${leaks.length} ways lead past it`}`}
        </span>
      </button>
    </Hint>
  );
}
