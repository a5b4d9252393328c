import { answer, api, lasting, type Mix, type Send, type Source } from "@/core/api/client";
import { useChange } from "@/core/commands/change";
import { to } from "@/core/commands/step";
import { decimal, gainText, panText } from "@/shared/look/format";

/** What a change of a send may hold; what is left out stays as it is. */
export type SendChange = Partial<Pick<Send, "gain" | "heard" | "muted" | "pan" | "tap">>;
export type MixChange = Partial<Pick<Mix, "name" | "gain" | "targetLufs">>;
export type SourceChange = Partial<Pick<Source, "name" | "trim" | "look" | "inverted" | "fold" | "syncDelay">>;

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
    send: ({ mix, source, change }, seen) =>
      answer(
        api.PATCH("/api/shows/{show}/mixes/{mix}/sends/{source}", {
          ...to(seen, { mix, source }),
          body: change,
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
    send: ({ mix, change }, seen) =>
      answer(api.PATCH("/api/shows/{show}/mixes/{mix}", { ...to(seen, { mix }), body: change, ...lasting })),
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
    send: ({ source, change }, seen) =>
      answer(api.PATCH("/api/shows/{show}/sources/{source}", { ...to(seen, { source }), body: change, ...lasting })),
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
          inverted: (inverted: boolean) => (inverted ? "upside down" : "the right way up"),
          fold: (fold: boolean) => (fold ? "as mono" : "as it comes"),
          syncDelay: (ms: number) => `held back ${decimal(ms)} ms`,
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
    send: ({ source, index }, seen) =>
      answer(
        api.PUT("/api/shows/{show}/sources/{source}/place", { ...to(seen, { source }), body: { index }, ...lasting }),
      ),
    foresee: (show, { source, index }) => ({ ...show, sources: moved(show.sources, source, index) }),
    tell: (show) => ({ what: "The order of the sources", value: show.sources.map((s) => s.name).join(", ") }),
  });
}

export function useMoveMix() {
  return useChange<{ mix: string; index: number }>({
    of: () => "order/mixes",
    send: ({ mix, index }, seen) =>
      answer(api.PUT("/api/shows/{show}/mixes/{mix}/place", { ...to(seen, { mix }), body: { index }, ...lasting })),
    foresee: (show, { mix, index }) => ({ ...show, mixes: moved(show.mixes, mix, index) }),
    tell: (show) => ({ what: "The order of the mixes", value: show.mixes.map((m) => m.name).join(", ") }),
  });
}
