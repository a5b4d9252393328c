import { expect, test } from "vitest";
import { frameOf } from "./frame";
import { levelsOf } from "./levels";
import { weightOf } from "./live";
import type { Layout } from "./paths";

test("a track grows with its sound, from a thread that is always seen to a line that leaves its neighbours room", () => {
  const levels = [Number.NEGATIVE_INFINITY, Number.NaN, -90, -54, -40, -23, -12, 0, 20];
  const weights = levels.map((level) => weightOf(level));
  expect(weights.slice(0, 4)).toEqual([1.1, 1.1, 1.1, 1.1]);
  for (let i = 4; i < weights.length; i++) expect(weights[i]).toBeGreaterThanOrEqual(weights[i - 1] ?? 0);
  expect(Math.max(...weights)).toBe(4.2);
});

test.each([
  [1280, 800],
  [640, 400],
  [390, 700],
])(
  "a map keeps its order in any room, is never squeezed beyond reading, and what does not fit is scrolled to: %i × %i",
  (width, height) => {
    const map = { width: 900, height: 700 };
    const frame = frameOf(map, { width, height });
    expect(frame.x(0)).toBe(frame.left);
    expect(frame.x(900) - frame.x(0)).toBeGreaterThanOrEqual(450);
    expect(frame.y(700) - frame.y(0)).toBeGreaterThanOrEqual(600);
    expect(frame.width).toBeGreaterThanOrEqual(frame.x(900) + frame.right - 0.001);
    expect(frame.height).toBeGreaterThanOrEqual(frame.y(700));
  },
);

test("a track shows what is measured at its own place: a send, a source after its chain, else the very point and channel it is taken from", () => {
  const map = {
    diagram: {
      starts: [
        { source: "host", point: "source/host" },
        { source: null, point: "app/chimes/sound" },
      ],
      mixes: [{ id: "ears" }],
      ends: [{}, {}],
      onwards: [{ mix: 0, end: 0, gain: 0.1 }],
      branches: [
        { start: 0, mix: 0, end: -1, from: "source/host/before", channel: -1, gain: 1 },
        { start: 0, mix: -1, end: 0, from: "source/host", channel: -1, gain: 0.5 },
        { start: 0, mix: -1, end: 1, from: "device/desk/in", channel: 2, gain: 1 },
        { start: 1, mix: -1, end: 1, from: "app/chimes/sound", channel: -1, gain: 1 },
      ],
    },
  } as unknown as Layout;
  expect(levelsOf(map, "0")).toEqual({ source: "host", gain: 1 });
  expect(levelsOf(map, "1")).toEqual({ point: "app/chimes/sound", gain: 1 });
  expect(levelsOf(map, "0 0 -1")).toEqual({ source: "host", mix: "ears", gain: 1 });
  expect(levelsOf(map, "0 0 0")).toEqual({ source: "host", mix: "ears", gain: 0.1 });
  expect(levelsOf(map, "0 -1 0")).toEqual({ source: "host", gain: 0.5 });
  expect(levelsOf(map, "0 -1 1")).toEqual({ point: "device/desk/in#2", gain: 1 });
  expect(levelsOf(map, "1 -1 1")).toEqual({ point: "app/chimes/sound", gain: 1 });
  expect(levelsOf(map, "1 0 -1")).toBeNull();
});
