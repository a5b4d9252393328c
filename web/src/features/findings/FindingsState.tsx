import { CircleCheck, TriangleAlert } from "lucide-react";
import { openLayer } from "@/core/place/place";
import { Hint } from "@/shared/ui/Hint";
import { doesHarm, useFindings } from "./findings";

/** Says, in the bar above every screen, how much is found that does harm. */
export function FindingsState() {
  const found = useFindings().data?.findings;
  if (!found) return null;
  const harm = found.filter(doesHarm);
  const serious = harm.some((f) => f.harm === "Serious");
  const words =
    harm.length === 0 ? "Nothing wrong found" : `${harm.length} ${harm.length === 1 ? "finding" : "findings"}`;
  const tone =
    harm.length === 0
      ? "border-transparent text-quiet hover:text-ink max-md:hidden"
      : serious
        ? "border-wrong text-wrong hover:bg-wrong/10"
        : "border-lamp text-lamp-ink hover:bg-lamp/10";
  const Sign = harm.length === 0 ? CircleCheck : TriangleAlert;
  return (
    <Hint
      text={
        harm[0]?.sentence ??
        "Where every sound goes is looked at with every change. Press for all that is good to know."
      }
    >
      <button
        type="button"
        onClick={() => openLayer("findings")}
        className={`flex shrink-0 items-center gap-1.5 rounded-md border px-2 py-1 text-[13px] whitespace-nowrap ${tone}`}
      >
        <Sign size={14} className="shrink-0" aria-hidden="true" />
        <span className="max-lg:sr-only">{words}</span>
        {harm.length > 0 && (
          <span className="lg:hidden" aria-hidden="true">
            {harm.length}
          </span>
        )}
      </button>
    </Hint>
  );
}
