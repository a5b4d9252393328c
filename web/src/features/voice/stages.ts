import type { Processor, Show } from "@/core/api/client";
import type { Selection } from "@/core/place/place";
import type { ChainPlace } from "@/features/chains/parts";

/** The point that a chain leads to, as text. */
export function pointOf({ source, mix }: ChainPlace): string {
  return mix === undefined ? `source/${source}` : `mix/${mix}`;
}

/** The point that gives what goes into a processor of a chain; at the chain's length, what leaves all of it. */
export function pointBefore(place: ChainPlace, chain: readonly Processor[], index: number): string {
  const before = chain[index - 1];
  return before ? `stage/${before.id}` : `${pointOf(place)}/before`;
}

/** The place whose chain is shown: what is selected, or what was shown last, or the first microphone. */
export function placeOf(show: Show, selection: Selection, last: ChainPlace | null): ChainPlace | null {
  const has = ({ source, mix }: ChainPlace) =>
    mix === undefined ? show.sources.some((s) => s.id === source) : show.mixes.some((m) => m.id === mix);
  const wished: ChainPlace | null =
    selection?.kind === "source"
      ? { source: selection.source }
      : selection?.kind === "mix"
        ? { mix: selection.mix }
        : null;
  for (const place of [wished, last]) if (place && has(place)) return place;
  const first = show.sources.find((s) => s.kind === "Microphone") ?? show.sources[0];
  return first ? { source: first.id } : null;
}

/** Where a new processor goes: after all that usually stand before it. */
export function usualIndex(chain: readonly Processor[], types: readonly { key: string }[], type: string): number {
  const rank = (key: string) => types.findIndex((t) => t.key === key);
  const after = chain.findLastIndex((p) => rank(p.type) <= rank(type));
  return after + 1;
}

/** The place in a chain where something that is dragged would go, from the middles of what stands there. */
export function dropIndex(middles: readonly number[], from: number, x: number): number {
  const before = middles.filter((m, i) => i !== from && m < x).length;
  return before;
}
