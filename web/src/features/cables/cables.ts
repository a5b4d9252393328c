import { type QueryClient, useQuery } from "@tanstack/react-query";
import { answer, api, type Cable, type CableFeed, type Show } from "@/core/api/client";
import type { Seen } from "@/core/commands/show";
import { to, useStep } from "@/core/commands/step";
import { refetchOn } from "@/core/realtime/hub";

/** What can be changed of how something plays into a cable. */
export type FeedChange = Partial<Pick<CableFeed, "gain" | "on" | "into" | "loopAllowed">>;

export function useAddCable() {
  return useStep((name: string, seen) =>
    answer(api.POST("/api/shows/{show}/cables", { ...to(seen), body: { name: name || null } })),
  );
}

export function useChangeCable(cable: string) {
  return useStep((change: Partial<Pick<Cable, "name" | "channels" | "bufferFrames">>, seen) =>
    answer(api.PATCH("/api/shows/{show}/cables/{cable}", { ...to(seen, { cable }), body: change })),
  );
}

export function useRemoveCable(cable: string) {
  return useStep<void>((_, seen) => answer(api.DELETE("/api/shows/{show}/cables/{cable}", { ...to(seen, { cable }) })));
}

const lossesKey = ["cable losses"] as const;

/** Keeps in step with the server who would lose what: the computer is part of it. */
export function followCables(queries: QueryClient) {
  refetchOn(queries, "GearChanged", lossesKey);
}

/** Who would lose what if a cable were removed: asked anew for every state of the show. */
export function useLosses(show: Show) {
  return useQuery({
    queryKey: [...lossesKey, show.id, show.revision],
    queryFn: () => answer(api.GET("/api/shows/{show}/cables/losses", { params: { path: { show: show.id } } })),
    refetchOnMount: "always",
  });
}

export function useAddFeed() {
  return useStep(({ cable, from }: { cable: string; from: string }, seen) =>
    answer(
      api.POST("/api/shows/{show}/cables/{cable}/feeds", {
        ...to(seen, { cable }),
        body: { from },
      }),
    ),
  );
}

export function useChangeFeed() {
  return useStep(({ cable, from, change }: { cable: string; from: string; change: FeedChange }, seen) =>
    answer(
      api.PATCH("/api/shows/{show}/cables/{cable}/feeds", {
        ...to(seen, { cable }),
        body: { from, ...change },
      }),
    ),
  );
}

export function useRemoveFeed(cable: string) {
  return useStep((from: string, seen) =>
    answer(
      api.POST("/api/shows/{show}/cables/{cable}/feeds/remove", {
        ...to(seen, { cable }),
        body: { from },
      }),
    ),
  );
}

export function useRecordFrom(cable: string) {
  return useStep((channels: { left: number; right: number | null }, seen) =>
    answer(
      api.POST("/api/shows/{show}/cables/{cable}/sources", {
        ...to(seen, { cable }),
        body: channels,
      }),
    ),
  );
}

/** Lets what closes a loop play all the same. */
export function useAllowLoop() {
  return useStep(async ({ show, loop }: { show: Show; loop: Show["loops"][number] }) => {
    let now = show;
    for (const held of loop.held) {
      const seen: Seen = { show: now.id, revision: now.revision };
      now =
        held.destination !== null
          ? await answer(
              api.PATCH("/api/shows/{show}/mixes/{mix}/destinations/{destination}", {
                ...to(seen, { mix: held.from.split("/")[1] ?? "", destination: held.destination }),
                body: { loopAllowed: true },
              }),
            )
          : held.source !== null
            ? await answer(
                api.PUT("/api/shows/{show}/sources/{source}/loop", {
                  ...to(seen, { source: held.source }),
                  body: { loopAllowed: true },
                }),
              )
            : await answer(
                api.PATCH("/api/shows/{show}/cables/{cable}/feeds", {
                  ...to(seen, { cable: held.intoCable ?? "" }),
                  body: { from: held.from, loopAllowed: true },
                }),
              );
    }
    return now;
  });
}

/** What plays, by the name that a person gave it. */
export function nameOf(show: Show, from: string): string {
  const [kind, id, tap] = from.split("/");
  const things = kind === "source" ? show.sources : kind === "mix" ? show.mixes : show.cables;
  return (things.find((t) => t.id === id)?.name ?? "Something") + (tap === "before" ? ", before its chain" : "");
}

/** Channels as people count them, from 1: pairs first, then each alone. */
export function channelChoices(channels: number): { left: number; right: number | null; words: string }[] {
  const pairs = Array.from({ length: Math.floor(channels / 2) }, (_, i) => ({
    left: 2 * i,
    right: 2 * i + 1,
    words: `channels ${2 * i + 1} and ${2 * i + 2}`,
  }));
  const single = Array.from({ length: channels }, (_, i) => ({ left: i, right: null, words: `channel ${i + 1}` }));
  return [...pairs, ...single];
}
