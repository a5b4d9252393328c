import { lazy, Suspense, useEffect, useRef, useState } from "react";
import { usePlace } from "@/core/place/place";
import { changedSince, useCards } from "./cards";

const ChangedCards = lazy(() => import("./ChangedCards").then((m) => ({ default: m.ChangedCards })));

/** Lets the cards come up by themselves that a change of the routing has changed: what must be picked otherwise now. */
export function NewCards() {
  const cards = useCards();
  const seesThem = usePlace((p) => p.layer === "cards" || p.screen === "gear");
  const known = useRef<typeof cards.data>(undefined);
  const [up, setUp] = useState<ReadonlyMap<string | null, ReadonlySet<string>> | null>(null);
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
    if (changed.size > 0) setUp((now) => new Map([...(now ?? []), ...changed]));
  }, [data, seesThem]);
  const shown = up && data?.cards.filter((c) => up.has(c.app));
  if (!up || !shown?.length) return null;
  return (
    <Suspense>
      <ChangedCards cards={shown} picks={up} close={() => setUp(null)} />
    </Suspense>
  );
}
