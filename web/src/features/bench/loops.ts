import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect } from "react";
import { watch } from "@/core/analysis/analysis";
import { answer, api, type Loop, lasting } from "@/core/api/client";
import { analysisHeaderBytes } from "@/core/api/generated/live";
import { to, useStep } from "@/core/commands/step";
import { repaint } from "@/core/meters/meters";
import { tell, tellWrong } from "@/core/notices/notices";
import { acceptLoop, doesInShow, followLoops, loopsKey } from "@/features/chains/parts";

/** What is called the sound without any chain. */
export const plain = "plain";

/** What the address says where another loop is to be taken. */
export const newLoop = "new";

let follows = false;

/** Keeps the loops in step with the server, from the first bench on. */
export function useFollowLoops() {
  const queries = useQueryClient();
  useEffect(() => {
    if (!follows) followLoops(queries);
    follows = true;
  }, [queries]);
}

/** Where a loop is; read it while drawing. */
export interface LoopPosition {
  /** 0 at its beginning, 1 at its end. */
  share: number;
}

/** Looks at a loop, whose bench runs as long. */
export function useLoopRuns(loop: string, position: LoopPosition) {
  useEffect(() => {
    let frames = 1;
    return watch("loop", loop, 40, {
      layout: (values) => {
        frames = (values as { frames: number }).frames;
      },
      values: (data) => {
        position.share = new DataView(data).getFloat32(analysisHeaderBytes + 8, true) / frames;
        repaint();
      },
    });
  }, [loop, position]);
}

/** Takes what a source gave just now: the last seconds, or all since an engine frame. */
export function useTakeLoop(show: string, source: string) {
  const queries = useQueryClient();
  return useMutation({
    scope: { id: "loops" },
    mutationFn: (of: { seconds: number } | { from: number }) =>
      answer(api.POST("/api/shows/{show}/loops", { params: { path: { show } }, body: { source, ...of } })),
    onSuccess: (loop) => queries.setQueryData<Loop[]>(loopsKey(show), (loops) => [loop, ...(loops ?? [])]),
    onError: tellWrong,
  });
}

/** What is kept of a source: how many seconds, and the engine frame after the last. */
export async function recentOf(show: string, source: string) {
  const recent = await answer(api.GET("/api/shows/{show}/recent", { params: { path: { show } } }));
  return recent.find((r) => r.source === source) ?? { seconds: 0, until: 0 };
}

/** The engine frame after the last that is kept of a source; of one that has just come there is none yet. */
export async function newestFrame(show: string, source: string): Promise<number> {
  const { until } = await recentOf(show, source);
  if (until === 0) throw new Error("Nothing has come from this source yet. Wait a moment, and try again.");
  return until;
}

type Change =
  | { kind: "rename"; name: string }
  | { kind: "add"; copyOf?: string; preset?: string }
  | { kind: "renameVariant"; variant: string; name: string }
  | { kind: "removeVariant"; variant: string };

/** Changes a loop and its list of variants. */
export function useLoopChange(show: string, loop: string) {
  const queries = useQueryClient();
  return useMutation({
    scope: { id: "loops" },
    mutationFn: (change: Change): Promise<Loop> => {
      const path = { show, loop };
      switch (change.kind) {
        case "rename":
          return answer(api.PATCH("/api/shows/{show}/loops/{loop}", { params: { path }, body: { name: change.name } }));
        case "add": {
          const { copyOf, preset } = change;
          return answer(
            api.POST("/api/shows/{show}/loops/{loop}/variants", {
              params: { path },
              body: { copyOf, preset: preset as never },
            }),
          );
        }
        case "renameVariant":
          return answer(
            api.PATCH("/api/shows/{show}/loops/{loop}/variants/{variant}", {
              params: { path: { ...path, variant: change.variant } },
              body: { name: change.name },
            }),
          );
        case "removeVariant":
          return answer(
            api.DELETE("/api/shows/{show}/loops/{loop}/variants/{variant}", {
              params: { path: { ...path, variant: change.variant } },
            }),
          );
      }
    },
    onSuccess: (now) => acceptLoop(queries, show, now),
    onError: (error) => {
      void queries.invalidateQueries({ queryKey: loopsKey(show) });
      tellWrong(error);
    },
  });
}

export function useRemoveLoop(show: string) {
  const queries = useQueryClient();
  return useMutation({
    scope: { id: "loops" },
    mutationFn: (loop: string) =>
      answer(api.DELETE("/api/shows/{show}/loops/{loop}", { params: { path: { show, loop } } })),
    onSettled: () => void queries.invalidateQueries({ queryKey: loopsKey(show) }),
    onError: tellWrong,
  });
}

/** Puts a variant's chain in place of that of its source: for everybody. */
export function useApply(loop: string, source: string) {
  return useStep(async ({ variant, name }: { variant: string; name: string }, seen) => {
    const refused = doesInShow(loop);
    const now = await answer(
      api.PUT("/api/shows/{show}/loops/{loop}/variants/{variant}/apply", to(seen, { loop, variant })),
    ).catch((error) => {
      refused();
      throw error;
    });
    tell("done", `${source} has the chain “${name}” now, for everybody who hears it.`, "Undo takes it back.");
    return now;
  });
}

/** What was measured of each variant. */
export function useMeasures(show: string, loop: Loop) {
  return useQuery({
    queryKey: ["loop-measures", loop.id, loop.revision],
    queryFn: () =>
      answer(api.GET("/api/shows/{show}/loops/{loop}/measures", { params: { path: { show, loop: loop.id } } })),
    placeholderData: (before) => before,
    gcTime: 10_000,
  }).data;
}

/** A variant's picture. */
export function usePicture(show: string, loop: Loop, variant: string) {
  return useQuery({
    queryKey: ["loop-picture", loop.id, loop.revision, variant],
    queryFn: () =>
      answer(
        api.GET("/api/shows/{show}/loops/{loop}/pictures/{variant}", {
          params: { path: { show, loop: loop.id, variant } },
        }),
      ),
    placeholderData: (before, query) => (query?.queryKey[3] === variant ? before : undefined),
    gcTime: 10_000,
  }).data;
}

/** What somebody read is not kept where nobody wants to hear it. */
export function forget(show: string, loop: string) {
  void api.DELETE("/api/shows/{show}/loops/{loop}", { params: { path: { show, loop } }, ...lasting });
}
