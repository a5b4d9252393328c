import { keepPreviousData, type QueryClient, useQuery } from "@tanstack/react-query";
import { answer, api, type Card } from "@/core/api/client";
import { useShow } from "@/core/commands/show";
import { to, useStep } from "@/core/commands/step";
import { refetchOn } from "@/core/realtime/hub";

const cardsKey = ["cards"] as const;

/** Keeps in step with the server what must be picked where: the computer is part of it. */
export function followCards(queries: QueryClient) {
  refetchOn(queries, "GearChanged", cardsKey);
}

/** What must be picked in each program for the live show; asked anew for every state of it. */
export function useCards() {
  const show = useShow().data;
  return useQuery({
    queryKey: [...cardsKey, show?.id, show?.revision],
    queryFn: () => answer(api.GET("/api/shows/{show}/cards", { params: { path: { show: show?.id ?? "" } } })),
    enabled: show !== undefined,
    placeholderData: keepPreviousData,
  });
}

/** Makes one thing of a card so, or all of it that is wrong. */
export function useSetCard() {
  return useStep((body: { app?: string; key?: string }, seen) =>
    answer(api.POST("/api/shows/{show}/cards/set", { ...to(seen), body })),
  );
}

// That a program ended or was turned down is told where it is; a change of the routing asks for none of both.
const routed = ["Output", "Input", "Default", "OwnProcessing"];

/** What a change of the routing asks for on some cards otherwise than before: anew, or wrong only since. By card, the keys of its picks. */
export function changedSince(before: readonly Card[], now: readonly Card[]): Map<string | null, Set<string>> {
  const old = new Map(before.flatMap((c) => c.picks.map((p) => [`${c.app} ${p.key}`, p] as const)));
  const changed = new Map<string | null, Set<string>>();
  for (const card of now) {
    const keys = card.picks.filter((p) => {
      const was = old.get(`${card.app} ${p.key}`);
      return routed.includes(p.kind) && p.state === "Wrong" && (was?.state !== "Wrong" || was.wanted !== p.wanted);
    });
    if (keys.length > 0) changed.set(card.app, new Set(keys.map((p) => p.key)));
  }
  return changed;
}
