/** A part of a take that is in sight, seconds. */
export interface Sight {
  from: number;
  to: number;
}

/** The shortest part that is shown, seconds. */
const shortest = 0.5;

/** The whole of it. */
export function whole(seconds: number): Sight {
  return { from: 0, to: Math.max(seconds, shortest) };
}

/** Nearer by a factor above 1, or farther below it, about a time that stays where it is seen; never beyond the take. */
export function zoomed({ from, to }: Sight, factor: number, about: number, seconds: number): Sight {
  const all = whole(seconds).to;
  const length = Math.min(all, Math.max(Math.min(shortest, all), (to - from) / factor));
  const share = (Math.min(to, Math.max(from, about)) - from) / (to - from);
  const begin = Math.min(all - length, Math.max(0, about - share * length));
  return { from: begin, to: begin + length };
}

/** The same length, moved so that a time is in sight; unmoved where it is. */
export function withIn(sight: Sight, time: number, seconds: number): Sight {
  if (time >= sight.from && time <= sight.to) return sight;
  const length = sight.to - sight.from;
  const from = Math.min(Math.max(0, whole(seconds).to - length), Math.max(0, time - length / 10));
  return { from, to: from + length };
}

/** The nearest mark before a time, or behind it; undefined: there is none. */
export function markFrom(marks: readonly { at: number }[], time: number, way: -1 | 1): number | undefined {
  const far = 0.05;
  return way > 0 ? marks.find((m) => m.at > time + far)?.at : marks.findLast((m) => m.at < time - far)?.at;
}

/** Round times in sight to write beside the line, at most so many. */
export function ticks({ from, to }: Sight, most: number): number[] {
  const steps = [0.1, 0.2, 0.5, 1, 2, 5, 10, 15, 30, 60, 120, 300, 600, 900, 1800, 3600, 7200];
  const step = steps.find((s) => (to - from) / s <= most) ?? 14_400;
  const first = Math.ceil(from / step - 1e-9);
  return Array.from({ length: Math.floor(to / step + 1e-9) - first + 1 }, (_, i) => (first + i) * step);
}

/** What is heard of each track: of those that are alone only these, of those that are silent none. */
export function heard<T extends { id: string }>(
  tracks: readonly T[],
  alone: ReadonlySet<string>,
  silent: ReadonlySet<string>,
): Set<string> {
  const some = tracks.some((t) => alone.has(t.id));
  return new Set(tracks.filter((t) => !silent.has(t.id) && (!some || alone.has(t.id))).map((t) => t.id));
}
