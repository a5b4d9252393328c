import { SlidersVertical } from "lucide-react";
import { goTo } from "@/core/place/place";
import { Hint } from "@/shared/ui/Hint";
import { useGear } from "./known";

/** Says, in the bar above every screen, that the computer is not as the show wants it. */
export function WishState() {
  const count = useGear().data?.unmet.length ?? 0;
  if (count === 0) return null;
  const words = `${count} ${count === 1 ? "thing is" : "things are"} not as this show wants ${count === 1 ? "it" : "them"}`;
  return (
    <Hint text={`${words}. Press to see what, and to set it.`}>
      <button
        type="button"
        onClick={() => goTo("gear")}
        className="flex min-w-0 items-center gap-1.5 rounded-md border border-lamp px-2 py-1 text-[13px] text-lamp-ink hover:bg-lamp/10"
      >
        <SlidersVertical size={14} className="shrink-0" aria-hidden="true" />
        <span className="truncate max-lg:sr-only">{words}</span>
        <span className="lg:hidden" aria-hidden="true">
          {count}
        </span>
      </button>
    </Hint>
  );
}
