import { RefreshCcw } from "lucide-react";
import type { Show } from "@/core/api/client";
import { Button } from "@/shared/ui/Button";
import { useAllowLoop } from "./cables";

/** What comes back softer than this is no more than a faint tail: it stands among the findings. */
const audible = -20;

/** Says which loops there are, and lets those that are held be settled. */
export function LoopBanner({ show }: { show: Show }) {
  const allow = useAllowLoop();
  return (
    <div role="status" aria-live="polite">
      {show.loops.map((loop) => {
        const held = loop.held.length > 0;
        if (!held && loop.gainDb < audible) return null;
        return (
          <div
            key={loop.sentence}
            className={`flex flex-wrap items-center gap-2 border-b px-4 py-1.5 text-[13px] ${held ? "border-wrong bg-wrong/10" : "border-line"}`}
          >
            <RefreshCcw size={15} className={`shrink-0 ${held ? "text-wrong" : "text-quiet"}`} aria-hidden="true" />
            <span className="min-w-0 grow basis-52">{loop.sentence}</span>
            {held && (
              <Button
                className="h-7"
                disabled={allow.isPending}
                onClick={() => allow.mutate({ show, loop })}
                aria-label={`Let it play: ${loop.sentence}`}
              >
                Let it play
              </Button>
            )}
          </div>
        );
      })}
    </div>
  );
}
