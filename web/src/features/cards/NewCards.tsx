import { lazy, Suspense, useEffect, useRef, useState } from "react";
import type { Card } from "@/core/api/client";
import { usePlace } from "@/core/place/place";
import { changedSince, useCards } from "./cards";

const ChangedCards = lazy(() => import("./ChangedCards").then((m) => ({ default: m.ChangedCards })));

/** Lets the cards come up by themselves that a change of the routing has changed: what must be picked otherwise now. */
export function NewCards() {
  const cards = useCards();
  const seesThem = usePlace((p) => p.layer === "cards" || p.screen === "gear");
  const known = useRef<typeof cards.data>(undefined);
  const [up, setUp] = useState<Keys | null>(null);
  const data = cards.isPlaceholderData ? undefined : cards.data;
  useEffect(() => {
    if (!data) return;
    const before = known.current;
    known.current = data;
    // Another show: what must be picked for it was so before.
    if (before?.show !== data.show) return setUp(null);
    // In Gear the sentences say so where it was done, unless the show itself asks for something else.
    if (seesThem && before.revision === data.revision) return;
    const changed = changedSince(before.cards, data.cards);
    if (changed.size > 0) setUp((now) => together(now, changed, data.cards));
  }, [data, seesThem]);
  const shown = up && data?.cards.filter((c) => c.picks.some((p) => up.get(c.app)?.has(p.key)));
  return (
    <div aria-live="polite">
      {up && shown && shown.length > 0 && (
        <Suspense>
          <ChangedCards cards={shown} picks={up} close={() => setUp(null)} />
        </Suspense>
      )}
    </div>
  );
}

type Keys = ReadonlyMap<string | null, ReadonlySet<string>>;

// What came up before stays as long as it is not so yet.
function together(before: Keys | null, changed: Keys, cards: readonly Card[]): Keys {
  const all = new Map<string | null, ReadonlySet<string>>();
  for (const card of cards) {
    const keys = card.picks.filter(
      (p) => changed.get(card.app)?.has(p.key) || (p.state === "Wrong" && before?.get(card.app)?.has(p.key)),
    );
    if (keys.length > 0) all.set(card.app, new Set(keys.map((p) => p.key)));
  }
  return all;
}
