import { afterEach, beforeEach, expect, test, vi } from "vitest";
import { makePreviews } from "./previews";

beforeEach(() => {
  vi.stubGlobal("requestAnimationFrame", () => 0);
});
afterEach(() => {
  vi.useRealTimers();
  vi.unstubAllGlobals();
});

test("what another window set before or ends during a gesture of one's own takes nothing of it away", () => {
  const previews = makePreviews<number>();
  previews.setByOther("a", 1);
  previews.set("a", 2);
  previews.endByOther("a");
  expect(previews.get("a")).toBe(2);
});

test("another window may hold still as long as it likes: what is heard is shown until it is over", () => {
  vi.useFakeTimers();
  const previews = makePreviews<number>();
  previews.setByOther("a", 1);
  vi.advanceTimersByTime(600_000);
  expect(previews.get("a")).toBe(1);
  previews.endByOther("a");
  expect(previews.get("a")).toBeUndefined();
});

test("where another show is live, nothing of the one before is shown", () => {
  const previews = makePreviews<number>();
  previews.set("a", 2);
  previews.setByOther("b", 3);
  previews.endAll();
  expect([previews.get("a"), previews.get("b")]).toEqual([undefined, undefined]);
  previews.setByOther("a", 4);
  expect(previews.get("a")).toBe(4);
});

test("after a gesture of one's own, what others set is shown again", () => {
  const previews = makePreviews<number>();
  previews.set("a", 2);
  previews.setByOther("a", 3);
  expect(previews.get("a")).toBe(2);
  previews.end("a");
  previews.setByOther("a", 4);
  expect(previews.get("a")).toBe(4);
});
