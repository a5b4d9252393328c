import { answer, api, type Cable, type CableFeed, type Show } from "../api/client";
import { changeHeaders, useStep } from "../show/show";

/** What can be changed of how something plays into a cable. */
export type FeedChange = Partial<Pick<CableFeed, "gain" | "on" | "into" | "loopAllowed">>;

export function useAddCable() {
  return useStep((name: string) =>
    answer(api.POST("/api/show/cables", { body: { name: name || null }, headers: changeHeaders() })),
  );
}

export function useChangeCable(cable: string) {
  return useStep((change: Partial<Pick<Cable, "name" | "channels" | "bufferFrames">>) =>
    answer(
      api.PATCH("/api/show/cables/{cable}", { params: { path: { cable } }, body: change, headers: changeHeaders() }),
    ),
  );
}

export function useRemoveCable(cable: string) {
  return useStep(() =>
    answer(api.DELETE("/api/show/cables/{cable}", { params: { path: { cable } }, headers: changeHeaders() })),
  );
}

export function useAddFeed(cable: string) {
  return useStep((from: string) =>
    answer(
      api.POST("/api/show/cables/{cable}/feeds", {
        params: { path: { cable } },
        body: { from },
        headers: changeHeaders(),
      }),
    ),
  );
}

export function useChangeFeed() {
  return useStep(({ cable, from, change }: { cable: string; from: string; change: FeedChange }) =>
    answer(
      api.PATCH("/api/show/cables/{cable}/feeds", {
        params: { path: { cable } },
        body: { from, ...change },
        headers: changeHeaders(),
      }),
    ),
  );
}

export function useRemoveFeed(cable: string) {
  return useStep((from: string) =>
    answer(
      api.POST("/api/show/cables/{cable}/feeds/remove", {
        params: { path: { cable } },
        body: { from },
        headers: changeHeaders(),
      }),
    ),
  );
}

export function useRecordFrom(cable: string) {
  return useStep((channels: { left: number; right: number | null }) =>
    answer(
      api.POST("/api/show/cables/{cable}/sources", {
        params: { path: { cable } },
        body: channels,
        headers: changeHeaders(),
      }),
    ),
  );
}

/** Lets what closes a loop play all the same. */
export function useAllowLoop() {
  return useStep(async ({ show, loop }: { show: Show; loop: Show["loops"][number] }) => {
    let now = show;
    for (const held of loop.held) {
      now =
        held.source !== null
          ? await answer(
              api.PUT("/api/show/sources/{source}/loop", {
                params: { path: { source: held.source } },
                body: { loopAllowed: true },
                headers: changeHeaders(),
              }),
            )
          : await answer(
              api.PATCH("/api/show/cables/{cable}/feeds", {
                params: { path: { cable: held.intoCable ?? "" } },
                body: { from: `cable/${held.cable}`, loopAllowed: true },
                headers: changeHeaders(),
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
