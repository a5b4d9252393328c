import { ShieldAlert, ShieldCheck, ShieldQuestion } from "lucide-react";
import { openLayer } from "@/core/place/place";
import { Hint } from "@/shared/ui/Hint";
import { countsOf, countWords, usePromises } from "./promises";

/** Says, in the bar above every screen, how many promises are kept, broken and not known. */
export function PromisesState() {
  const promises = usePromises().data?.promises;
  if (!promises) return null;
  const { kept, broken, notKnown } = countsOf(promises);
  const worst = promises.find((p) => p.state === "Broken");
  const Sign = broken > 0 ? ShieldAlert : kept > 0 ? ShieldCheck : ShieldQuestion;
  const tone =
    broken > 0 ? "border-wrong text-wrong hover:bg-wrong/10" : "border-transparent text-quiet hover:text-ink";
  const words = countWords(promises);
  const short = broken > 0 ? `${broken} broken` : `${kept} kept`;
  return (
    <Hint
      text={
        worst
          ? `Broken: ${worst.sentence}.`
          : promises.length === 0
            ? "Say who must hear what, and it is watched all the time."
            : `${words}. Watched in the routing and in the sound.`
      }
    >
      <button
        type="button"
        onClick={() => openLayer("promises")}
        aria-label={words}
        className={`flex shrink-0 items-center gap-1.5 rounded-md border px-2 py-1 text-[13px] whitespace-nowrap ${tone} ${broken > 0 ? "" : "max-md:hidden"}`}
      >
        <Sign size={14} className="shrink-0" aria-hidden="true" />
        <span className="max-xl:hidden">{broken > 0 || notKnown === 0 ? words : `${words}`}</span>
        <span className="max-lg:hidden xl:hidden">{short}</span>
        {broken > 0 && <span className="lg:hidden">{broken}</span>}
      </button>
    </Hint>
  );
}
