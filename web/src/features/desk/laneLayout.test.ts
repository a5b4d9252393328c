import { expect, test } from "vitest";
import { type Fold, foldedHeight, laneHeight, layLanes, leastRow } from "./laneLayout";

const lanes = (count: number, heard: number) => Array.from({ length: count }, (_, i) => ({ id: `m${i}`, heard }));

/** What 1280 by 800 leaves for the lanes. */
const usual = 690;

test("four lanes with fourteen sources fit the usual screen, all open", () => {
  const layout = layLanes(usual, lanes(4, 14), 14, {}, true);
  expect(layout.folded.size).toBe(0);
  expect(layout.rowHeight).toBeGreaterThanOrEqual(leastRow);
});

test("few sources have easy rows, at the same height in every lane", () => {
  const layout = layLanes(usual, lanes(3, 2), 6, {}, true);
  expect(layout.aligned).toBe(true);
  expect(layout.rowHeight).toBeGreaterThanOrEqual(23);
});

test("whatever there is, what is laid out fits, as long as a lane can be folded and the first fits alone", () => {
  for (let count = 1; count <= 9; count++)
    for (let heard = 0; heard <= 24; heard++) {
      const layout = layLanes(usual, lanes(count, heard), 24, {}, true);
      const open = count - layout.folded.size;
      const rows = layout.aligned ? 24 : heard;
      expect(open).toBeGreaterThan(0);
      expect(open * laneHeight(rows, layout.rowHeight) + layout.folded.size * foldedHeight).toBeLessThanOrEqual(usual);
    }
});

test("the last lanes are folded first", () => {
  expect([...layLanes(usual, lanes(6, 14), 14, {}, true).folded].sort()).toEqual(["m3", "m4", "m5"]);
});

test("what a person chose stays, and the others make room for it", () => {
  const chosen: Record<string, Fold> = { m5: "open", m0: "folded" };
  const { folded } = layLanes(usual, lanes(6, 14), 14, chosen, true);
  expect(folded.has("m5")).toBe(false);
  expect(folded.has("m0")).toBe(true);
  const all = Object.fromEntries(lanes(6, 14).map((l) => [l.id, "open" as Fold]));
  expect(layLanes(usual, lanes(6, 14), 14, all, true).folded.size).toBe(0);
});

test("on a narrow screen, which is scrolled, rows stay easy to hit and nothing is folded by itself", () => {
  const layout = layLanes(usual, lanes(6, 14), 14, {}, false);
  expect(layout).toMatchObject({ rowHeight: 23, folded: new Set() });
});
