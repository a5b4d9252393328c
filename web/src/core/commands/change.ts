import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useRef } from "react";
import { Refusal, type Show } from "@/core/api/client";
import { askWhich } from "./conflict";
import { keepOnTop } from "./pending";
import { acceptShow, type Seen, seenBy } from "./show";
import { changeKey, refused, seenNow } from "./step";

/** With any change: what the person saw when the gesture began; left out: what is shown now. */
interface Gesture {
  on?: Seen;
}

interface Way<T> {
  /** Names what it changes: changes of one thing are sent one after the other, or the last might not be the last. */
  of: (change: T) => string;
  /** Sends it, as made on what the person saw: where others have changed the same since, it is refused. */
  send: (change: T, seen: Seen) => Promise<Show>;
  /** The show as it will be. */
  foresee: (show: Show, change: T) => Show;
  /** What is changed, and how it stands in a show; for a person who must choose. */
  tell: (show: Show, change: T) => { what: string; value: string };
}

/** The last change of each thing that is on its way. */
const underway = new Map<string, Promise<unknown>>();

/** Sends at once, unless another change of the same thing is on its way: requests overtake each other. */
function inTurn<R>(of: string, send: () => Promise<R>): Promise<R> {
  const before = underway.get(of);
  const mine = before === undefined ? send() : before.then(send, send);
  underway.set(of, mine);
  const done = () => {
    if (underway.get(of) === mine) underway.delete(of);
  };
  mine.then(done, done);
  return mine;
}

/**
 * A change that shows at once, and is taken back with words where the server refuses it. Where somebody else has changed the
 * same value meanwhile, the person sees both and chooses. Sent at once: a page that closes has no change left to send.
 */
export function useChange<T>({ of, send, foresee, tell }: Way<T & Gesture>) {
  const queries = useQueryClient();
  const began = useRef<Seen | null>(null);
  const mutation = useMutation({
    mutationKey: changeKey,
    mutationFn: (change: T & Gesture) =>
      // The show in which the gesture was made: by the time it is sent, another may be live that has the same mixes.
      inTurn(of(change), async () => send(change, change.on ?? (await seenNow(queries)))),
    onMutate: (change) => ({
      over: keepOnTop((show) => (change.on && change.on.show !== show.id ? show : foresee(show, change))),
    }),
    onSuccess: (show, _, { over }) => {
      acceptShow(queries, show);
      over();
    },
    onError: (error, change, context) => {
      context?.over();
      if (!(error instanceof Refusal) || !error.isStale || !error.current) return refused(queries, error);
      const theirs = error.current;
      acceptShow(queries, theirs);
      askWhich({
        ...tell(theirs, change),
        mine: tell(foresee(theirs, change), change).value,
        step: error.step,
        keepMine: () => mutation.mutate({ ...change, on: { show: theirs.id, revision: theirs.revision } }),
      });
    },
  });
  const asSeen = (change: T & Gesture) => ({
    ...change,
    on: change.on ?? began.current ?? seenBy(queries) ?? undefined,
  });
  return {
    ...mutation,
    mutate: (change: T & Gesture) => mutation.mutate(asSeen(change)),
    mutateAsync: (change: T & Gesture) => mutation.mutateAsync(asSeen(change)),
    /** For a field in which a value is typed: what others change meanwhile is not overwritten unseen. */
    editing: (begins: boolean) => {
      began.current = begins ? seenBy(queries) : null;
    },
  };
}
