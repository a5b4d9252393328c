import { type QueryClient, useMutation, useQueryClient } from "@tanstack/react-query";
import { useCallback } from "react";
import { answer, api, Refusal, type Show } from "@/core/api/client";
import { tellWrong } from "@/core/notices/notices";
import { clientId } from "@/core/realtime/hub";
import { windowId, windowName } from "@/core/realtime/identity";
import { acceptShow, ensureShow, type Seen, seenBy, showKey } from "./show";

/** What all changes of values are known by while they wait for their answer. */
export const changeKey = ["change"] as const;

/** What goes with every command: for which show, on what the person saw, and whose it is. */
export function to<P extends Record<string, string>>(seen: Seen, path: P = {} as P) {
  const id = clientId();
  return {
    params: { path: { show: seen.show, ...path }, query: { revision: seen.revision } },
    headers: { "X-Window": windowId, "X-Window-Name": windowName, ...(id === null ? {} : { "X-Client": id }) },
  };
}

/** What this window shows now. */
export async function seenNow(queries: QueryClient): Promise<Seen> {
  const { id, revision } = await ensureShow(queries);
  return { show: id, revision };
}

/** Takes in what a refusal says of the show as it is, and tells the person why. */
export function refused(queries: QueryClient, error: unknown) {
  if (error instanceof Refusal && error.current) acceptShow(queries, error.current);
  else void queries.invalidateQueries({ queryKey: showKey });
  tellWrong(error);
}

/** A step that waits for the server's answer before it shows. It is for the show in which it was wanted, however long others are before it. */
export function useStep<T = void>(send: (change: T, seen: Seen) => Promise<Show>) {
  const queries = useQueryClient();
  const {
    mutate: enqueue,
    isPending,
    error,
  } = useMutation({
    scope: { id: "show" },
    mutationFn: async ({ change, show }: { change: T; show: string | undefined }) => {
      const now = await seenNow(queries);
      return send(change, { show: show ?? now.show, revision: now.revision });
    },
    onSuccess: (show) => acceptShow(queries, show),
    onError: (error) => refused(queries, error),
  });
  const mutate = useCallback(
    (change: T, options?: { onSuccess?: (show: Show) => void; onSettled?: () => void }) =>
      enqueue({ change, show: seenBy(queries)?.show }, options),
    [enqueue, queries],
  );
  return { mutate, isPending, error };
}

/** The show once all of this window's changes have been answered. */
async function answered(queries: QueryClient): Promise<Show> {
  const waiting = () => queries.isMutating({ mutationKey: changeKey }) > 0;
  if (waiting()) {
    await new Promise<void>((done) => {
      const stop = queries.getMutationCache().subscribe(() => {
        if (waiting()) return;
        stop();
        done();
      });
    });
  }
  return ensureShow(queries);
}

/** One step back or forth, once this window's own changes have been answered; another than it knows of is not taken unseen. */
function useWalk(way: "undo" | "redo") {
  const queries = useQueryClient();
  return useStep<void>(async (_, seen) => {
    const show = await answered(queries);
    const step = way === "undo" ? show.toUndo : show.toRedo;
    if (!step && show.id === seen.show) return show;
    const body = { step: step?.revision ?? 0 };
    const there = to({ show: seen.show, revision: show.revision });
    return way === "undo"
      ? answer(api.POST("/api/shows/{show}/undo", { ...there, body }))
      : answer(api.POST("/api/shows/{show}/redo", { ...there, body }));
  });
}

/** Takes back the last step. */
export const useUndo = () => useWalk("undo");

/** Does again what was taken back last. */
export const useRedo = () => useWalk("redo");
