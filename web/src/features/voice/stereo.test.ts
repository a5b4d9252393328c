import { expect, test } from "vitest";
import { wordsOf } from "./stereo";

const none = Number.NEGATIVE_INFINITY;

test("mono, width, one side alone, upside down, an offset and silence are each told, and nothing else", () => {
  expect(wordsOf({ correlation: 1, sides: none, offset: none })).toBe("Mono. No constant offset.");
  expect(wordsOf({ correlation: 0.5, sides: -4.77, offset: -40 })).toBe(
    "The sides are 4.8 dB under the middle, left and right alike by 0.50. A constant offset of −40 dBFS.",
  );
  expect(wordsOf({ correlation: -0.9, sides: 12, offset: none })).toContain("One of them is upside down");
  expect(wordsOf({ correlation: Number.NaN, sides: 0, offset: none })).toContain("one side alone");
  expect(wordsOf({ correlation: Number.NaN, sides: Number.NaN, offset: none })).toBe("Silence.");
});
