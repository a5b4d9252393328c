import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect, useRef } from "react";
import { answer, api, type Take, type TakeForm } from "@/core/api/client";
import { useOneAtATime } from "@/core/commands/once";
import { tell, tellWrong } from "@/core/notices/notices";

const takesKey = ["takes"] as const;

/** The takes that were deleted and can be brought back. */
export function useDeletedTakes() {
  return useQuery({ queryKey: [...takesKey, "deleted"], queryFn: () => answer(api.GET("/api/takes/deleted")) });
}

/** What can be changed of a take. */
export type TakeChange = Partial<Pick<Take, "name" | "notes" | "from">> & { to?: number };

/** Changes a take; what is wished is seen at once. */
export function useChangeTake(take: string) {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: (change: TakeChange) =>
      answer(api.PATCH("/api/takes/{take}", { params: { path: { take } }, body: change })),
    onMutate: async (change) => {
      await queries.cancelQueries({ queryKey: takesKey, exact: true });
      queries.setQueryData<Take[]>(takesKey, (all) => all?.map((t) => (t.id === take ? { ...t, ...change } : t)));
    },
    onError: tellWrong,
    onSettled: () => queries.invalidateQueries({ queryKey: takesKey }),
  });
}

/** Brings back a take that was deleted. */
export function useBringBack() {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: (take: string) =>
      answer(api.POST("/api/takes/deleted/{take}/bring-back", { params: { path: { take } } })),
    onError: tellWrong,
    onSettled: () => queries.invalidateQueries({ queryKey: takesKey }),
  });
}

const deletedHere = new Set<string>();

/** Says that a take has gone while it was played, where this window did not delete it. */
export function useSayIfDeleted(take: Take, playing: boolean) {
  const queries = useQueryClient();
  const now = useRef({ take, playing });
  now.current = { take, playing };
  useEffect(
    () => () => {
      const { take, playing } = now.current;
      const isThere = queries.getQueryData<Take[]>(takesKey)?.some((t) => t.id === take.id) ?? true;
      if (playing && !isThere && !deletedHere.has(take.id))
        tell("wrong", `“${take.name}” was deleted while it played here.`, "It can be brought back, below the takes.");
    },
    [queries],
  );
}

/** Deletes a take, which can be brought back. */
export function useDeleteTake() {
  const queries = useQueryClient();
  const { mutate: bringBack } = useBringBack();
  const { begin, end } = useOneAtATime();
  const { mutate } = useMutation({
    mutationFn: (take: Take) => answer(api.DELETE("/api/takes/{take}", { params: { path: { take: take.id } } })),
    onSuccess: (_, take) =>
      tell("done", `“${take.name}” is deleted.`, "It can be brought back for 30 days.", {
        words: "Bring it back",
        act: () => bringBack(take.id),
      }),
    onError: (error, take) => {
      deletedHere.delete(take.id);
      tellWrong(error);
    },
    onSettled: () => {
      end();
      return queries.invalidateQueries({ queryKey: takesKey });
    },
  });
  return (take: Take) =>
    begin(() => {
      deletedHere.add(take.id);
      mutate(take);
    });
}

/** Deletes a deleted take for good. */
export function useForgetTake() {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: (take: string) => answer(api.DELETE("/api/takes/deleted/{take}", { params: { path: { take } } })),
    onError: tellWrong,
    onSettled: () => queries.invalidateQueries({ queryKey: takesKey }),
  });
}

/** Sound files that are to be made of a take. */
export interface SoundOrder {
  shape: "Apart" | "Blend" | "Channels";
  tracks: { track: string; gain: number }[];
  form: TakeForm | null;
  lufs: number | null;
  ceiling: number;
  atMarks: boolean;
}

/** Has sound files made of a take. */
export function useExportSound(take: string) {
  const { begin, end } = useOneAtATime();
  const { mutate } = useMutation({
    mutationFn: (order: SoundOrder) =>
      answer(api.POST("/api/takes/{take}/sound", { params: { path: { take } }, body: order })),
    onError: tellWrong,
    onSettled: end,
  });
  return (order: SoundOrder, onBegun: () => void) => begin(() => mutate(order, { onSuccess: onBegun }));
}
