import { expect, test } from "vitest";
import { heard, markFrom, ticks, whole, withIn, zoomed } from "./timeLine";

test("zooming leaves the time where it is seen, and never goes beyond the take", () => {
  for (const seconds of [0.1, 3, 42, 36_000])
    for (const share of [0, 0.3, 1]) {
      let sight = whole(seconds);
      const about = share * sight.to;
      for (let i = 0; i < 30; i++) {
        const next = zoomed(sight, 2, about, seconds);
        expect(next.from).toBeGreaterThanOrEqual(0);
        expect(next.to).toBeLessThanOrEqual(whole(seconds).to + 1e-9);
        expect(about).toBeGreaterThanOrEqual(next.from - 1e-9);
        expect(about).toBeLessThanOrEqual(next.to + 1e-9);
        sight = next;
      }
      expect(sight.to - sight.from).toBeCloseTo(0.5);
      for (let i = 0; i < 40; i++) sight = zoomed(sight, 0.5, about, seconds);
      expect(sight.from).toBeCloseTo(0);
      expect(sight.to).toBeCloseTo(whole(seconds).to);
    }
});

test("what plays out of sight is brought into sight, with the same zoom", () => {
  expect(withIn({ from: 2, to: 6 }, 4, 60)).toEqual({ from: 2, to: 6 });
  const next = withIn({ from: 2, to: 6 }, 6.1, 60);
  expect(next.from).toBeLessThan(6.1);
  expect(next.to - next.from).toBeCloseTo(4);
  expect(withIn({ from: 2, to: 6 }, 59.9, 60).to).toBeCloseTo(60);
});

test("marks are gone to one after the other, both ways, and none twice", () => {
  const marks = [{ at: 1 }, { at: 1.02 }, { at: 5 }];
  expect(markFrom(marks, 0, 1)).toBe(1);
  expect(markFrom(marks, 1, 1)).toBe(5);
  expect(markFrom(marks, 5, 1)).toBeUndefined();
  expect(markFrom(marks, 5, -1)).toBe(1.02);
  expect(markFrom(marks, 0.5, -1)).toBeUndefined();
});

test("times beside the line are round, in sight, and not too many", () => {
  for (const [from, to] of [
    [0, 0.5],
    [3.3, 4.4],
    [0, 42],
    [100, 4_000],
    [0, 36_000],
  ] as const) {
    const all = ticks({ from, to }, 10);
    expect(all.length).toBeLessThanOrEqual(11);
    expect(all.length).toBeGreaterThan(1);
    for (const t of all) expect(t >= from - 1e-6 && t <= to + 1e-6).toBe(true);
  }
  expect(ticks({ from: 0, to: 42 }, 10)).toEqual([0, 5, 10, 15, 20, 25, 30, 35, 40]);
});

test("who is alone is heard alone, and who is silent is not heard even then", () => {
  const tracks = ["a", "b", "c"].map((id) => ({ id }));
  const set = (...ids: string[]) => new Set(ids);
  expect(heard(tracks, set(), set())).toEqual(set("a", "b", "c"));
  expect(heard(tracks, set(), set("b"))).toEqual(set("a", "c"));
  expect(heard(tracks, set("a", "b"), set("b"))).toEqual(set("a"));
  expect(heard(tracks, set("gone"), set())).toEqual(set("a", "b", "c"));
});
