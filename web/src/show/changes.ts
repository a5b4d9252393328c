import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useRef } from "react";
import { answer, api, lasting, type Mix, Refusal, type Send, type Show, type Source } from "../api/client";
import { decimal, gainText, panText } from "../look/format";
import { tellWrong } from "../ui/notices";
import { askWhich } from "./conflict";
import { acceptShow, changeHeaders, changeKey, keepOnTop, replaceShow, revisionOf, showKey } from "./show";

/** What a change of a send may hold; what is left out stays as it is. */
export type SendChange = Partial<Pick<Send, "gain" | "heard" | "muted" | "pan" | "tap">>;
export type MixChange = Partial<Pick<Mix, "name" | "gain" | "targetLufs">>;
export type SourceChange = Partial<Pick<Source, "name" | "trim" | "look">>;

/** With any change: the revision that the person saw when the gesture began; left out: the one that is shown now. */
interface Gesture {
  on?: number;
  /** The person has seen the other value, and chose this one. */
  chosen?: boolean;
}

interface Way<T> {
  /** Names what it changes: changes of one thing are sent one after the other, or the last might not be the last. */
  of: (change: T) => string;
  /** Sends it; with no revision, it has its own way whatever others have done. */
  send: (change: T, baseRevision: number | null) => Promise<Show>;
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
  const began = useRef<number | null>(null);
  const mutation = useMutation({
    mutationKey: changeKey,
    mutationFn: (change: T & Gesture) =>
      inTurn(of(change), () => send(change, change.chosen ? null : (change.on ?? revisionOf(queries)))),
    onMutate: (change) => {
      const over = keepOnTop((show) => foresee(show, change));
      const before = queries.getQueryData<Show>(showKey);
      if (before) queries.setQueryData<Show>(showKey, foresee(before, change));
      return { over };
    },
    onSuccess: (show, _, { over }) => {
      over();
      acceptShow(queries, show);
    },
    onError: (error, change, context) => {
      context?.over();
      if (error instanceof Refusal && error.status === 409 && error.current) {
        const theirs = error.current;
        replaceShow(queries, theirs);
        askWhich({
          ...tell(theirs, change),
          mine: tell(foresee(theirs, change), change).value,
          step: error.step,
          keepMine: () => mutation.mutate({ ...change, chosen: true }),
        });
        return;
      }
      tellWrong(error);
      void queries.invalidateQueries({ queryKey: showKey });
    },
  });
  const asSeen = (change: T & Gesture) => ({
    ...change,
    on: change.on ?? began.current ?? revisionOf(queries) ?? undefined,
  });
  return {
    ...mutation,
    mutate: (change: T & Gesture) => mutation.mutate(asSeen(change)),
    mutateAsync: (change: T & Gesture) => mutation.mutateAsync(asSeen(change)),
    /** For a field in which a value is typed: what others change meanwhile is not overwritten unseen. */
    editing: (begins: boolean) => {
      began.current = begins ? revisionOf(queries) : null;
    },
  };
}

const sendTexts: { [K in keyof Required<SendChange>]: (value: Send[K]) => string } = {
  gain: gainText,
  heard: (heard) => (heard ? "heard" : "in the dock"),
  muted: (muted) => (muted ? "muted" : "not muted"),
  pan: panText,
  tap: (tap) => (tap === "BeforeChain" ? "taken before the chain" : "taken after the chain"),
};

function texts<T extends object>(
  change: object,
  of: T | undefined,
  texts: { [K in keyof T]?: (value: never) => string },
) {
  if (!of) return "gone";
  const said = Object.keys(texts)
    .filter((key) => (change as Record<string, unknown>)[key] !== undefined)
    .map((key) => texts[key as keyof T]?.(of[key as keyof T] as never));
  return said.join(", ");
}

export function useChangeSend() {
  return useChange<{ mix: string; source: string; change: SendChange }>({
    of: ({ mix, source }) => `send/${mix}/${source}`,
    send: ({ mix, source, change }, baseRevision) =>
      answer(
        api.PATCH("/api/show/mixes/{mix}/sends/{source}", {
          params: { path: { mix, source } },
          body: { ...change, baseRevision },
          headers: changeHeaders(),
          ...lasting,
        }),
      ),
    foresee: (show, { mix, source, change }) => ({
      ...show,
      mixes: show.mixes.map((m) =>
        m.id === mix ? { ...m, sends: m.sends.map((s) => (s.source === source ? { ...s, ...change } : s)) } : m,
      ),
    }),
    tell: (show, { mix, source, change }) => {
      const of = show.mixes.find((m) => m.id === mix);
      return {
        what: `${show.sources.find((s) => s.id === source)?.name ?? "A source"} in ${of?.name ?? "a mix"}`,
        value: texts(
          change,
          of?.sends.find((s) => s.source === source),
          sendTexts,
        ),
      };
    },
  });
}

export function useChangeMix() {
  return useChange<{ mix: string; change: MixChange }>({
    of: ({ mix }) => `mix/${mix}`,
    send: ({ mix, change }, baseRevision) =>
      answer(
        api.PATCH("/api/show/mixes/{mix}", {
          params: { path: { mix } },
          body: { ...change, baseRevision },
          headers: changeHeaders(),
          ...lasting,
        }),
      ),
    foresee: (show, { mix, change }) => ({
      ...show,
      mixes: show.mixes.map((m) => (m.id === mix ? { ...m, ...change } : m)),
    }),
    tell: (show, { mix, change }) => {
      const of = show.mixes.find((m) => m.id === mix);
      return {
        what: of?.name ?? "A mix",
        value: texts(change, of, {
          name: (name: string) => name,
          gain: gainText,
          targetLufs: (target: number) => `target ${decimal(target)} LUFS`,
        }),
      };
    },
  });
}

export function useChangeSource() {
  return useChange<{ source: string; change: SourceChange }>({
    of: ({ source }) => `source/${source}`,
    send: ({ source, change }, baseRevision) =>
      answer(
        api.PATCH("/api/show/sources/{source}", {
          params: { path: { source } },
          body: { ...change, baseRevision },
          headers: changeHeaders(),
          ...lasting,
        }),
      ),
    foresee: (show, { source, change }) => ({
      ...show,
      sources: show.sources.map((s) => (s.id === source ? { ...s, ...change } : s)),
    }),
    tell: (show, { source, change }) => {
      const of = show.sources.find((s) => s.id === source);
      return {
        what: of?.name ?? "A source",
        value: texts(change, of, {
          name: (name: string) => name,
          trim: (trim: Source["trim"]) => `trim ${gainText(trim)}`,
          look: (look: Source["look"]) => `colour ${look.color + 1}, shape ${look.shape + 1}`,
        }),
      };
    },
  });
}

function moved<T extends { id: string }>(items: T[], id: string, index: number): T[] {
  const item = items.find((i) => i.id === id);
  if (!item) return items;
  const rest = items.filter((i) => i.id !== id);
  return [...rest.slice(0, index), item, ...rest.slice(index)];
}

export function useMoveSource() {
  return useChange<{ source: string; index: number }>({
    of: () => "order/sources",
    send: ({ source, index }, baseRevision) =>
      answer(
        api.PUT("/api/show/sources/{source}/place", {
          params: { path: { source } },
          body: { index, baseRevision },
          headers: changeHeaders(),
          ...lasting,
        }),
      ),
    foresee: (show, { source, index }) => ({ ...show, sources: moved(show.sources, source, index) }),
    tell: (show) => ({ what: "The order of the sources", value: show.sources.map((s) => s.name).join(", ") }),
  });
}

export function useMoveMix() {
  return useChange<{ mix: string; index: number }>({
    of: () => "order/mixes",
    send: ({ mix, index }, baseRevision) =>
      answer(
        api.PUT("/api/show/mixes/{mix}/place", {
          params: { path: { mix } },
          body: { index, baseRevision },
          headers: changeHeaders(),
          ...lasting,
        }),
      ),
    foresee: (show, { mix, index }) => ({ ...show, mixes: moved(show.mixes, mix, index) }),
    tell: (show) => ({ what: "The order of the mixes", value: show.mixes.map((m) => m.name).join(", ") }),
  });
}
