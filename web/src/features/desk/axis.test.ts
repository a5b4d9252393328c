import { describe, expect, it } from "vitest";
import { axisFrom, axisTo, gridValues, markerLufs, pixelsToLu, share } from "./axis";

describe("the loudness axis", () => {
  it("goes from end to end and holds what lies beyond", () => {
    expect(share(axisFrom)).toBe(0);
    expect(share(axisTo)).toBe(1);
    expect(share(Number.NEGATIVE_INFINITY)).toBe(0);
    expect(share(20)).toBe(1);
    expect(gridValues[0]).toBe(axisFrom);
    expect(gridValues.at(-1)).toBe(axisTo);
  });

  it("moves a marker by as many pixels as the decibels it is dragged by", () => {
    const width = 640;
    const before = share(markerLufs(-30, 0, -2)) * width;
    const after = share(markerLufs(-30, -6, -2)) * width;
    expect(pixelsToLu(after - before, width)).toBeCloseTo(-6, 10);
  });
});
