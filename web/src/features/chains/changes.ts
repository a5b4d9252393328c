import {
  answer,
  api,
  type ChainPreset,
  lasting,
  type Processor,
  type ProcessorType,
  type Show,
} from "@/core/api/client";
import { useChange } from "@/core/commands/change";
import { to, useStep } from "@/core/commands/step";
import { useBenchStep } from "./bench";

/** Whose processors: of a source, of a mix, or with both, of that send; with a loop, of that variant of it on the bench. */
export interface ChainPlace {
  source?: string;
  mix?: string;
  loop?: string;
}

export type ProcessorChange = Partial<Pick<Processor, "bypassed" | "keys">> & { values?: Record<string, number> };

/** The chain at a place; of a send, its ducker alone. */
export function chainAt(show: Show, { source, mix }: ChainPlace): Processor[] {
  if (mix === undefined) return show.sources.find((s) => s.id === source)?.chain ?? [];
  const of = show.mixes.find((m) => m.id === mix);
  if (source === undefined) return of?.chain ?? [];
  const ducker = of?.sends.find((s) => s.source === source)?.ducker;
  return ducker ? [ducker] : [];
}

function withChain(show: Show, { source, mix }: ChainPlace, chain: Processor[]): Show {
  if (mix === undefined) return { ...show, sources: show.sources.map((s) => (s.id === source ? { ...s, chain } : s)) };
  return {
    ...show,
    mixes: show.mixes.map((m) => {
      if (m.id !== mix) return m;
      if (source === undefined) return { ...m, chain };
      return { ...m, sends: m.sends.map((s) => (s.source === source ? { ...s, ducker: chain[0] ?? null } : s)) };
    }),
  };
}

/** Changes a processor: at once here, and on the server. */
export function useChangeProcessor(
  place: ChainPlace,
  words: (processor: Processor, change: ProcessorChange) => string,
) {
  const { source = "", mix = "" } = place;
  return useChange<{ processor: string; change: ProcessorChange }>({
    of: ({ processor }) => `processor/${processor}`,
    send: ({ processor, change }, seen) => {
      const rest = { body: change, ...lasting };
      if (place.mix === undefined)
        return answer(
          api.PATCH("/api/shows/{show}/sources/{source}/chain/{processor}", {
            ...to(seen, { source, processor }),
            ...rest,
          }),
        );
      if (place.source === undefined)
        return answer(
          api.PATCH("/api/shows/{show}/mixes/{mix}/chain/{processor}", { ...to(seen, { mix, processor }), ...rest }),
        );
      return answer(
        api.PATCH("/api/shows/{show}/mixes/{mix}/sends/{source}/ducker/{processor}", {
          ...to(seen, { mix, source, processor }),
          ...rest,
        }),
      );
    },
    foresee: (show, { processor, change }) =>
      withChain(
        show,
        place,
        chainAt(show, place).map((p) =>
          p.id === processor ? { ...p, ...change, values: { ...p.values, ...change.values } } : p,
        ),
      ),
    tell: (show, { processor, change }) => {
      const of = chainAt(show, place).find((p) => p.id === processor);
      return { what: of ? "A processor" : "A processor that is gone", value: of ? words(of, change) : "gone" };
    },
  });
}

export type ChainStep =
  | { kind: "add"; type: ProcessorType["key"]; keys?: Processor["keys"]; index?: number }
  /** Another with the same settings, right after it. */
  | { kind: "duplicate"; processor: string; index: number }
  /** All at once. */
  | { kind: "bypass"; bypassed: boolean }
  /** The chain of another source or mix, as a point, in place of this one. */
  | { kind: "copy"; from: string }
  | { kind: "remove"; processor: string }
  | { kind: "move"; processor: string; index: number }
  | { kind: "preset"; preset: ChainPreset["key"] | null }
  /** One that somebody has kept. */
  | { kind: "own"; own: string };

interface StepOptions {
  /** With the chain as it is then. */
  onSuccess?: (chain: Processor[]) => void;
  onSettled?: () => void;
}

/** Adds, removes, moves and doubles processors, bypasses all, and puts a preset or another chain in place of a chain. */
export function useChainStep(place: ChainPlace) {
  const inShow = useShowChainStep(place);
  const onBench = useBenchStep(place);
  if (place.loop !== undefined) return onBench;
  return {
    ...inShow,
    mutate: (step: ChainStep, options: StepOptions = {}) =>
      inShow.mutate(step, { ...options, onSuccess: (show) => options.onSuccess?.(chainAt(show, place)) }),
  };
}

function useShowChainStep({ source = "", mix = "" }: ChainPlace) {
  return useStep((step: ChainStep, seen): Promise<Show> => {
    const inSource = mix === "";
    const inMix = source === "";
    if (step.kind === "bypass") {
      const body = { bypassed: step.bypassed };
      return inSource
        ? answer(api.PUT("/api/shows/{show}/sources/{source}/chain/bypass", { ...to(seen, { source }), body }))
        : answer(api.PUT("/api/shows/{show}/mixes/{mix}/chain/bypass", { ...to(seen, { mix }), body }));
    }
    if (step.kind === "add" || step.kind === "duplicate") {
      const body =
        step.kind === "add"
          ? { type: step.type, keys: step.keys, index: step.index }
          : { copyOf: step.processor, index: step.index + 1 };
      if (inSource)
        return answer(api.POST("/api/shows/{show}/sources/{source}/chain", { ...to(seen, { source }), body }));
      if (inMix) return answer(api.POST("/api/shows/{show}/mixes/{mix}/chain", { ...to(seen, { mix }), body }));
      return answer(
        api.POST("/api/shows/{show}/mixes/{mix}/sends/{source}/ducker", {
          ...to(seen, { mix, source }),
          body,
        }),
      );
    }
    if (step.kind === "remove") {
      const { processor } = step;
      if (inSource)
        return answer(
          api.DELETE("/api/shows/{show}/sources/{source}/chain/{processor}", {
            ...to(seen, { source, processor }),
          }),
        );
      if (inMix)
        return answer(
          api.DELETE("/api/shows/{show}/mixes/{mix}/chain/{processor}", {
            ...to(seen, { mix, processor }),
          }),
        );
      return answer(
        api.DELETE("/api/shows/{show}/mixes/{mix}/sends/{source}/ducker/{processor}", {
          ...to(seen, { mix, source, processor }),
        }),
      );
    }
    if (step.kind === "move") {
      const { processor, index } = step;
      return inSource
        ? answer(
            api.PUT("/api/shows/{show}/sources/{source}/chain/{processor}/place", {
              ...to(seen, { source, processor }),
              body: { index },
            }),
          )
        : answer(
            api.PUT("/api/shows/{show}/mixes/{mix}/chain/{processor}/place", {
              ...to(seen, { mix, processor }),
              body: { index },
            }),
          );
    }
    const body =
      step.kind === "copy" ? { copyOf: step.from } : step.kind === "own" ? { own: step.own } : { preset: step.preset };
    return inSource
      ? answer(api.PUT("/api/shows/{show}/sources/{source}/chain", { ...to(seen, { source }), body }))
      : answer(api.PUT("/api/shows/{show}/mixes/{mix}/chain", { ...to(seen, { mix }), body }));
  });
}
