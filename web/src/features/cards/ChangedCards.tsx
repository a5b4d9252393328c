import { X } from "lucide-react";
import type { Card } from "@/core/api/client";
import { openLayer } from "@/core/place/place";
import { Button } from "@/shared/ui/Button";
import { CardPicks } from "./CardPicks";

interface Props {
  cards: readonly Card[];
  /** By card, which of its picks have changed. */
  picks: ReadonlyMap<string | null, ReadonlySet<string>>;
  close: () => void;
}

const most = 2;

/** The cards that have changed, until somebody has read them. They take nobody's focus. */
export function ChangedCards({ cards, picks, close }: Props) {
  const wrong = cards.some((c) => c.picks.some((p) => picks.get(c.app)?.has(p.key) && p.state === "Wrong"));
  return (
    <section
      aria-label="Cards that have changed"
      className={`fixed bottom-3 left-20 z-30 max-h-[calc(60*var(--vh))] w-[min(23rem,calc(calc(100*var(--vw))-1.5rem))] overflow-auto rounded-md border bg-raised p-3 shadow-xl max-md:bottom-17 max-md:left-3 ${wrong ? "border-lamp" : "border-line"}`}
    >
      <div className="flex items-center gap-2">
        <h2 className="grow text-[13px] font-semibold">{wrong ? "To be picked now" : "All picked"}</h2>
        <Button
          tone="quiet"
          className="h-7"
          onClick={() => {
            close();
            openLayer("cards");
          }}
        >
          All cards
        </Button>
        <Button tone="quiet" square className="h-7" aria-label="Close" icon={<X size={14} />} onClick={close} />
      </div>
      {cards.slice(0, most).map((c) => (
        <div key={c.app ?? ""} className="mt-1">
          <h3 className="text-xs font-semibold text-quiet">{c.title}</h3>
          <CardPicks card={c} only={picks.get(c.app)} />
        </div>
      ))}
      {cards.length > most && <p className="mt-1 text-xs text-quiet">And {cards.length - most} more.</p>}
    </section>
  );
}
