import type { Layout } from "./paths";

/** Where the level is measured that a track shows, and the factor from there on. A start's own stretch is known by its number alone. */
export function levelsOf(
  map: Layout,
  key: string,
): { source?: string; mix?: string; point?: string; gain: number } | null {
  const { starts, mixes, branches, onwards } = map.diagram;
  const [start = -1, mix, end] = key.split(" ").map(Number);
  const { source, point } = starts[start] ?? {};
  if (mix === undefined || end === undefined) return source ? { source, gain: 1 } : { point, gain: 1 };
  if (mix >= 0) {
    const gain = end < 0 ? 1 : (onwards.find((o) => o.mix === mix && o.end === end)?.gain ?? 1);
    return source ? { source, mix: mixes[mix]?.id, gain } : null;
  }
  const branch = branches.find((b) => b.start === start && b.mix < 0 && b.end === end);
  if (!branch) return null;
  // After its chain a source has a meter of its own; any other point has one as the computer's.
  if (source && branch.from === `source/${source}`) return { source, gain: branch.gain };
  return branch.from.startsWith("source/")
    ? null
    : { point: branch.channel < 0 ? branch.from : `${branch.from}#${branch.channel}`, gain: branch.gain };
}
