import { type QueryClient, useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { answer, api, type Gain, type Mix, type NewMix, type Send, type Show } from "../api/client";
import { clientId } from "../live/hub";
import { windowId, windowName } from "../live/identity";
import { tellWrong } from "../ui/notices";

export const showKey = ["show"] as const;

/** What all changes of values are known by while they wait for their answer. */
export const changeKey = ["change"] as const;

/** What this window has changed and the server has not answered yet, in order. */
const unanswered = new Set<(show: Show) => Show>();

/** Keeps a change on top of whatever the server tells, until it is over: an older answer takes nothing back on the screen. */
export function keepOnTop(foresee: (show: Show) => Show): () => void {
  unanswered.add(foresee);
  return () => unanswered.delete(foresee);
}

function withUnanswered(show: Show): Show {
  let seen = show;
  for (const foresee of unanswered) seen = foresee(seen);
  return seen;
}

// What came over the hub while the answer was on its way is newer than the answer.
async function fetchShow({ client }: { client: QueryClient }): Promise<Show> {
  const show = await answer(api.GET("/api/show"));
  const known = client.getQueryData<Show>(showKey);
  return known && known.id === show.id && known.revision > show.revision ? known : withUnanswered(show);
}

/** The live show, as this window knows it. */
export function useShow() {
  return useQuery({ queryKey: showKey, queryFn: fetchShow });
}

/** Takes in a show, unless a newer one is known already. */
export function acceptShow(queries: QueryClient, show: Show) {
  queries.setQueryData<Show>(showKey, (known) =>
    known && known.id === show.id && known.revision > show.revision ? known : withUnanswered(show),
  );
}

/** Takes in a show whatever is known: what the window had foreseen was refused. */
export function replaceShow(queries: QueryClient, show: Show) {
  queries.setQueryData<Show>(showKey, withUnanswered(show));
}

/** The revision that this window shows. */
export function revisionOf(queries: QueryClient): number | null {
  return queries.getQueryData<Show>(showKey)?.revision ?? null;
}

/** True where a send is stored so already, and nothing is on its way that would make it otherwise. */
export function isStored(queries: QueryClient, mix: string, source: string, gain: Gain): boolean {
  const of = queries.getQueryData<Show>(showKey)?.mixes.find((m) => m.id === mix);
  return of !== undefined && sendOf(of, source).gain === gain && queries.isMutating({ mutationKey: changeKey }) === 0;
}

/** Says with a change whose it is. */
export function changeHeaders(): Record<string, string> {
  const id = clientId();
  return { "X-Window": windowId, "X-Window-Name": windowName, ...(id === null ? {} : { "X-Client": id }) };
}

/** A step that waits for the server's answer before it shows. */
export function useStep<T = void>(send: (change: T) => Promise<Show>) {
  const queries = useQueryClient();
  return useMutation({
    scope: { id: "show" },
    mutationFn: send,
    onSuccess: (show) => acceptShow(queries, show),
    onError: (error) => {
      tellWrong(error);
      void queries.invalidateQueries({ queryKey: showKey });
    },
  });
}

export function useRemoveSource() {
  return useStep((source: string) =>
    answer(api.DELETE("/api/show/sources/{source}", { params: { path: { source } }, headers: changeHeaders() })),
  );
}

export function useAddMix() {
  return useStep((body: NewMix) => answer(api.POST("/api/show/mixes", { body, headers: changeHeaders() })));
}

export function useRemoveMix() {
  return useStep((mix: string) =>
    answer(api.DELETE("/api/show/mixes/{mix}", { params: { path: { mix } }, headers: changeHeaders() })),
  );
}

/** The show once all of this window's changes have been answered. */
async function known(queries: QueryClient): Promise<Show> {
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
  return queries.ensureQueryData({ queryKey: showKey, queryFn: fetchShow });
}

/** Takes back the last step that this window knows of once its own changes have been answered; another is not taken back unseen. */
export function useUndo() {
  const queries = useQueryClient();
  return useStep(async () => {
    const show = await known(queries);
    if (!show.toUndo) return show;
    return answer(api.POST("/api/show/undo", { body: { revision: show.toUndo.revision }, headers: changeHeaders() }));
  });
}

/** Does again what was taken back last. */
export function useRedo() {
  const queries = useQueryClient();
  return useStep(async () => {
    const show = await known(queries);
    if (!show.toRedo) return show;
    return answer(api.POST("/api/show/redo", { body: { revision: show.toRedo.revision }, headers: changeHeaders() }));
  });
}

export function usePlaySource() {
  return useMutation({
    mutationFn: (source: string) =>
      answer(api.POST("/api/show/sources/{source}/play", { params: { path: { source } } })),
    onError: tellWrong,
  });
}

/** A sound file that becomes a source. */
export interface NewSound {
  file: File;
  name: string;
  loop: boolean;
}

export function useAddSound() {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: ({ file, name, loop }: NewSound) => {
      const form = new FormData();
      form.set("file", file);
      form.set("name", name);
      form.set("loop", String(loop));
      return answer(
        api.POST("/api/show/sources", {
          body: form as never,
          bodySerializer: (body) => body as unknown as FormData,
          headers: changeHeaders(),
        }),
      );
    },
    onSuccess: (show) => acceptShow(queries, show),
  });
}

/** The send of a source in a mix. A valid show has one for each. */
export function sendOf(mix: Mix, source: string): Send {
  const send = mix.sends.find((s) => s.source === source);
  if (!send) throw new Error(`The mix ${mix.name} has no send for ${source}.`);
  return send;
}

/** A gain within what may be set, as a number: "off" below the least that the Desk shows. */
export function allowedGain(value: number): Gain {
  if (value < -60) return "off";
  return Math.round(Math.min(value, 12) * 10) / 10;
}
