import { answer, api, lasting, type Processor, type Show } from "../api/client";
import { useChange } from "../show/changes";
import { changeHeaders, useStep } from "../show/show";

/** Whose processors: of a source, of a mix, or with both, of that send. */
export interface ChainPlace {
  source?: string;
  mix?: string;
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
    send: ({ processor, change }, baseRevision) => {
      const rest = { body: { ...change, baseRevision }, headers: changeHeaders(), ...lasting };
      if (place.mix === undefined)
        return answer(
          api.PATCH("/api/show/sources/{source}/chain/{processor}", {
            params: { path: { source, processor } },
            ...rest,
          }),
        );
      if (place.source === undefined)
        return answer(
          api.PATCH("/api/show/mixes/{mix}/chain/{processor}", { params: { path: { mix, processor } }, ...rest }),
        );
      return answer(
        api.PATCH("/api/show/mixes/{mix}/sends/{source}/ducker/{processor}", {
          params: { path: { mix, source, processor } },
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

type Step =
  | { kind: "add"; type: string; keys?: Processor["keys"] }
  | { kind: "remove"; processor: string }
  | { kind: "move"; processor: string; index: number }
  | { kind: "preset"; preset: string | null };

/** Adds, removes and moves processors, and puts a preset in place of a chain. */
export function useChainStep({ source = "", mix = "" }: ChainPlace) {
  const headers = () => changeHeaders();
  return useStep((step: Step): Promise<Show> => {
    const inSource = mix === "";
    const inMix = source === "";
    if (step.kind === "add") {
      const body = { type: step.type, keys: step.keys };
      if (inSource)
        return answer(
          api.POST("/api/show/sources/{source}/chain", { params: { path: { source } }, body, headers: headers() }),
        );
      if (inMix)
        return answer(api.POST("/api/show/mixes/{mix}/chain", { params: { path: { mix } }, body, headers: headers() }));
      return answer(
        api.POST("/api/show/mixes/{mix}/sends/{source}/ducker", {
          params: { path: { mix, source } },
          body,
          headers: headers(),
        }),
      );
    }
    if (step.kind === "remove") {
      const { processor } = step;
      if (inSource)
        return answer(
          api.DELETE("/api/show/sources/{source}/chain/{processor}", {
            params: { path: { source, processor } },
            headers: headers(),
          }),
        );
      if (inMix)
        return answer(
          api.DELETE("/api/show/mixes/{mix}/chain/{processor}", {
            params: { path: { mix, processor } },
            headers: headers(),
          }),
        );
      return answer(
        api.DELETE("/api/show/mixes/{mix}/sends/{source}/ducker/{processor}", {
          params: { path: { mix, source, processor } },
          headers: headers(),
        }),
      );
    }
    if (step.kind === "move") {
      const { processor, index } = step;
      return inSource
        ? answer(
            api.PUT("/api/show/sources/{source}/chain/{processor}/place", {
              params: { path: { source, processor } },
              body: { index },
              headers: headers(),
            }),
          )
        : answer(
            api.PUT("/api/show/mixes/{mix}/chain/{processor}/place", {
              params: { path: { mix, processor } },
              body: { index },
              headers: headers(),
            }),
          );
    }
    const body = { preset: step.preset };
    return inSource
      ? answer(api.PUT("/api/show/sources/{source}/chain", { params: { path: { source } }, body, headers: headers() }))
      : answer(api.PUT("/api/show/mixes/{mix}/chain", { params: { path: { mix } }, body, headers: headers() }));
  });
}
