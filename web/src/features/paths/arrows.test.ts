import { expect, test } from "vitest";
import { follow, nameOf, type Place } from "./arrows";
import type { Layout } from "./paths";

const track = (start: number, mix: number, end: number) => ({ start, mix, end, state: "On" as const, line: [] });
const extent = (top: number) => ({ top, bottom: top + 10 });

// Two sources, two mixes; the first mix leads to an end beside it and to one below, the second source past all mixes too.
const map = {
  diagram: {
    starts: [{}, {}],
    mixes: [{}, {}],
    ends: [{}, {}],
    onwards: [
      { mix: 0, end: 1 },
      { mix: 0, end: 0 },
    ],
  },
  mixes: [extent(0), extent(100)],
  ends: [extent(200), extent(0)],
  tracks: [track(0, 0, -1), track(1, 0, -1), track(1, 1, -1), track(1, -1, 0), track(0, 0, 1), track(1, 0, 1)],
} as unknown as Layout;

const start = (n: number): Place => ({ kind: "start", start: n });
const mix = (n: number): Place => ({ kind: "mix", mix: n });
const end = (n: number): Place => ({ kind: "end", end: n });
const on = (s: number, m: number, e = -1): Place => ({ kind: "track", start: s, mix: m, end: e });

test.each<[Place, string, Place | null]>([
  [start(0), "ArrowRight", on(0, 0)],
  [start(0), "ArrowLeft", null],
  [start(0), "ArrowDown", start(1)],
  [start(1), "ArrowDown", null],
  [on(0, 0), "ArrowLeft", start(0)],
  [on(0, 0), "ArrowRight", mix(0)],
  [on(1, 0), "ArrowDown", on(1, 1)],
  [on(1, 1), "ArrowDown", on(1, -1, 0)],
  [on(1, -1, 0), "ArrowRight", end(0)],
  [on(1, -1, 0), "ArrowDown", null],
  [mix(0), "ArrowRight", end(1)],
  [mix(0), "ArrowLeft", on(0, 0)],
  [mix(1), "ArrowRight", null],
  [mix(1), "ArrowUp", mix(0)],
  // Ends as they stand, not as they are counted.
  [end(1), "ArrowDown", end(0)],
  [end(0), "ArrowUp", end(1)],
  [end(0), "ArrowLeft", mix(0)],
  [start(0), "x", null],
])("%j, %s: %j", (from, key, to) => {
  expect(follow(map, from, key)).toEqual(to);
});

test("whatever an arrow leads to, an arrow leads on from there, and all that can be chosen is reached", () => {
  const seen = new Map<string, Place>([[nameOf(start(0)), start(0)]]);
  for (const place of seen.values())
    for (const key of ["ArrowRight", "ArrowLeft", "ArrowUp", "ArrowDown"]) {
      const next = follow(map, place, key);
      if (next) seen.set(nameOf(next), next);
    }
  expect(seen.size).toBe(2 + 4 + 2 + 2);
});
