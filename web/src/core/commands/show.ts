import { type QueryClient, useQuery } from "@tanstack/react-query";
import { answer, api, type Mix, type Send, type Show } from "@/core/api/client";
import { on } from "@/core/realtime/hub";
import { applyPatch } from "./patch";
import { usePending, withPending } from "./pending";

/** Under this key the server's document is kept, as it was told last; what is shown is in useShow. */
export const showKey = ["show"] as const;

/** The newest document that the server has told of, whether or not it is here yet. */
let newest = 0;

async function fetchShow({ client }: { client: QueryClient }): Promise<Show> {
  for (;;) {
    const show = await answer(api.GET("/api/shows/live"));
    const known = client.getQueryData<Show>(showKey);
    if (known && known.sequence > show.sequence) return known;
    if (show.sequence >= newest) return show;
    // News came while the answer was on its way: it is older than these.
  }
}

/** The live show, as this window shows it: with its own changes, answered or not. */
export function useShow() {
  const { data, error, refetch } = useQuery({ queryKey: showKey, queryFn: fetchShow });
  const changes = usePending((s) => s.changes);
  return { data: data && withPending(data, changes), error, refetch };
}

/** The live show, fetched where it is not known yet. */
export function ensureShow(queries: QueryClient): Promise<Show> {
  return queries.ensureQueryData({ queryKey: showKey, queryFn: fetchShow });
}

/** The live show as the server told it last; undefined: not yet. */
export function toldShow(queries: QueryClient): Show | undefined {
  return queries.getQueryData<Show>(showKey);
}

/** Takes in a document of the server's, unless a newer one is known already. */
export function acceptShow(queries: QueryClient, show: Show) {
  newest = Math.max(newest, show.sequence);
  queries.setQueryData<Show>(showKey, (known) => (known && known.sequence > show.sequence ? known : show));
}

/** Which show a command is for, and the revision of it that the person saw. */
export interface Seen {
  show: string;
  revision: number;
}

/** What this window shows now; null: nothing yet. */
export function seenBy(queries: QueryClient): Seen | null {
  const show = toldShow(queries);
  return show ? { show: show.id, revision: show.revision } : null;
}

/** Keeps this window's document in step with the server's: by steps, and whole where a step was missed or another show opened. */
export function followShow(queries: QueryClient) {
  const fetchAnew = (sequence: number) => {
    newest = Math.max(newest, sequence);
    void queries.invalidateQueries({ queryKey: showKey });
  };
  on("ShowOpened", fetchAnew);
  on("ShowChanged", ({ after, sequence, patch }) => {
    const known = toldShow(queries);
    if (known && known.sequence >= sequence) return;
    if (known?.sequence !== after) return fetchAnew(sequence);
    acceptShow(queries, { ...applyPatch(known, patch), sequence });
  });
}

/** The send of a source in a mix. A valid show has one for each. */
export function sendOf(mix: Mix, source: string): Send {
  const send = mix.sends.find((s) => s.source === source);
  if (!send) throw new Error(`The mix ${mix.name} has no send for ${source}.`);
  return send;
}
