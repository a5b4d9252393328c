import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { askAnew } from "@/core/api/anew";
import { answer, api, type Cue, type CueAct, type CueRun, type Show } from "@/core/api/client";
import { useChange } from "@/core/commands/change";
import { to, useStep } from "@/core/commands/step";
import { tellWrong } from "@/core/notices/notices";

const runKey = (show: string) => ["pads", show, "cue-run"];

/** Which cue is next, which began last, and when the next follows by itself. Told anew with every change of it. */
export function useCueRun(show: Show) {
  return useQuery({
    // By revision: asked before a step had arrived, it would be what was before it.
    queryKey: [...runKey(show.id), show.revision],
    queryFn: async () => ({
      run: await answer(api.GET("/api/shows/{show}/cue-run", { params: { path: { show: show.id } } })),
      at: performance.now(),
    }),
    placeholderData: (before) => before,
    gcTime: 10_000,
  }).data;
}

/** What is done with the list as it is gone through. */
export type Hand = "go" | "back" | "hold" | "letGo" | "begin" | { next: string };

export function useCueHand(show: string) {
  const queries = useQueryClient();
  return useMutation({
    scope: { id: "cues" },
    mutationFn: (hand: Hand): Promise<CueRun> => {
      const params = { path: { show } };
      if (hand === "go") return answer(api.POST("/api/shows/{show}/cue-run/go", { params }));
      if (hand === "begin") return answer(api.POST("/api/shows/{show}/cue-run/begin", { params }));
      if (hand === "hold" || hand === "letGo")
        return answer(api.PUT("/api/shows/{show}/cue-run/hold", { params, body: { on: hand === "hold" } }));
      return answer(
        api.PUT("/api/shows/{show}/cue-run/next", { params, body: hand === "back" ? {} : { cue: hand.next } }),
      );
    },
    // Asked again, and not taken from the answer: what was told meanwhile may be newer than that.
    onSuccess: () => {
      void askAnew(queries, runKey(show));
    },
    onError: tellWrong,
  });
}

export function useAddCue() {
  return useStep((body: { name: string; acts: CueAct[]; index?: number }, seen) =>
    answer(api.POST("/api/shows/{show}/cues", { ...to(seen), body })),
  );
}

export function useRemoveCue() {
  return useStep((cue: string, seen) => answer(api.DELETE("/api/shows/{show}/cues/{cue}", to(seen, { cue }))));
}

export function useMoveCue() {
  return useStep(({ cue, index }: { cue: string; index: number }, seen) =>
    answer(api.PATCH("/api/shows/{show}/cues/{cue}", { ...to(seen, { cue }), body: { index } })),
  );
}

export type CueChange = Partial<Pick<Cue, "name" | "notes" | "begin" | "wait" | "acts">>;

export function useChangeCue() {
  return useChange<{ cue: string; change: CueChange }>({
    of: ({ cue }) => `cue/${cue}`,
    send: ({ cue, change }, seen) =>
      answer(api.PATCH("/api/shows/{show}/cues/{cue}", { ...to(seen, { cue }), body: change })),
    foresee: (show, { cue, change }) => ({
      ...show,
      cues: show.cues.map((c) => (c.id === cue ? { ...c, ...change } : c)),
    }),
    tell: (show, { cue, change }) => {
      const found = show.cues.find((c) => c.id === cue);
      return {
        what: `The cue ${found?.name ?? "that is gone"}`,
        value: found
          ? Object.keys(change)
              .map((key) => JSON.stringify(found[key as keyof Cue]))
              .join(", ")
          : "gone",
      };
    },
  });
}
