import { type QueryClient, useMutation, useQueryClient } from "@tanstack/react-query";
import { answer, api, type Loop, lasting, type Processor, type Show } from "@/core/api/client";
import { useShow } from "@/core/commands/show";
import { tellWrong } from "@/core/notices/notices";
import { didOnBench, turnOf } from "./benchHistory";
import { catalogueOf } from "./catalogue";
import type { ChainPlace, ChainStep, ProcessorChange } from "./changes";
import { acceptLoop, loopsKey } from "./loops";
import { newId, stepped } from "./stepped";

type Chain = Processor[];

/** The variant's chain as this window knows it. */
function chainOf(queries: QueryClient, show: string, { loop, source }: ChainPlace): Chain {
  const loops = queries.getQueryData<Loop[]>(loopsKey(show));
  return loops?.find((l) => l.id === loop)?.variants.find((v) => v.id === source)?.chain ?? [];
}

/** What a step puts into a chain that is not there yet. */
async function madeFor(queries: QueryClient, step: ChainStep, show: Show | undefined): Promise<Chain> {
  const { types, presets } = await catalogueOf(queries);
  const of = (type: Processor["type"], values: Record<string, number>): Processor => ({
    id: newId(),
    type,
    bypassed: false,
    keys: [],
    values: {
      ...Object.fromEntries(
        types.find((t) => t.key === type)?.parameters.map((p) => [p.key, p.default] as const) ?? [],
      ),
      ...values,
    },
  });
  if (step.kind === "add") return [of(step.type, {})];
  if (step.kind === "preset")
    return (
      presets.find((p) => p.key === step.preset)?.chain.map((s) => of(s.type as Processor["type"], s.values)) ?? []
    );
  if (step.kind === "own") {
    const own = (await answer(api.GET("/api/presets"))).find((p) => p.id === step.own);
    return own?.chain.map((p) => ({ ...p, id: newId() })) ?? [];
  }
  if (step.kind === "copy") {
    const of = [
      ...(show?.sources.map((s) => ({ point: `source/${s.id}`, chain: s.chain })) ?? []),
      ...(show?.mixes.map((m) => ({ point: `mix/${m.id}`, chain: m.chain })) ?? []),
    ].find((o) => o.point === step.from);
    return of?.chain.map((p) => ({ ...p, id: newId() })) ?? [];
  }
  return [];
}

/** Changes of the variants' chains, one after the other, each made of what the one before has come to; what takes them back stands in the same row. */
function useChainChange(place: ChainPlace) {
  const queries = useQueryClient();
  const show = useShow().data?.id ?? "";
  const { loop = "", source: variant = "" } = place;
  return useMutation({
    scope: { id: turnOf(loop) },
    // What stood before it is given where it shows already.
    mutationFn: async ({ change, seen }: { change: (chain: Chain) => Chain | Promise<Chain>; seen?: Chain }) => {
      const standing = chainOf(queries, show, place);
      const chain = await change(standing);
      const params = { path: { show, loop, variant } };
      const body = { chain };
      const now = await answer(
        api.PATCH("/api/shows/{show}/loops/{loop}/variants/{variant}", { params, body, ...lasting }),
      );
      didOnBench(loop, variant, seen ?? standing, chain);
      acceptLoop(queries, show, now);
      return now.variants.find((v) => v.id === variant)?.chain ?? [];
    },
    onError: (error) => {
      void queries.invalidateQueries({ queryKey: loopsKey(show) });
      tellWrong(error);
    },
  });
}

/** Steps on a chain on the bench. */
export function useBenchStep(place: ChainPlace) {
  const queries = useQueryClient();
  const show = useShow().data;
  const { mutate, isPending, error } = useChainChange(place);
  return {
    isPending,
    error,
    mutate: (step: ChainStep, options: { onSuccess?: (chain: Chain) => void; onSettled?: () => void } = {}) =>
      mutate({ change: async (chain) => stepped(chain, step, await madeFor(queries, step, show)) }, options),
  };
}

/** Changes of a processor on the bench: at once here, and on the server. */
export function useBenchChange(place: ChainPlace) {
  const queries = useQueryClient();
  const show = useShow().data?.id ?? "";
  const { mutateAsync } = useChainChange(place);
  const store = ({ processor, change }: { processor: string; change: ProcessorChange }) => {
    const changed = (chain: Chain) =>
      chain.map((p) => (p.id === processor ? { ...p, ...change, values: { ...p.values, ...change.values } } : p));
    const seen = chainOf(queries, show, place);
    queries.setQueryData<Loop[]>(loopsKey(show), (loops) =>
      loops?.map((l) =>
        l.id === place.loop
          ? { ...l, variants: l.variants.map((v) => (v.id === place.source ? { ...v, chain: changed(v.chain) } : v)) }
          : l,
      ),
    );
    return mutateAsync({ change: changed, seen });
  };
  return {
    mutateAsync: store,
    mutate: (change: Parameters<typeof store>[0]) => void store(change).catch(() => {}),
    editing: (_: boolean) => {},
  };
}
