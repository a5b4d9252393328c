import { expect, test } from "vitest";
import { frameOf } from "./frame";
import { weightOf } from "./live";

test("a track grows with its sound, from a thread that is always seen to a line that leaves its neighbours room", () => {
  const levels = [Number.NEGATIVE_INFINITY, Number.NaN, -90, -54, -40, -23, -12, 0, 20];
  const weights = levels.map(weightOf);
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
