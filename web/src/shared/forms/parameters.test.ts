import { describe, expect, it } from "vitest";
import type { Parameter } from "@/core/api/client";
import { readValue, shareOf, valueAt, valueText } from "./parameters";

function parameter(scale: Parameter["scale"], min: number, max: number, unit = ""): Parameter {
  return { key: "p", name: "P", unit, min, max, default: min, scale, meaning: "." };
}

const threshold = parameter("Decibels", -60, 0, "dB");
const frequency = parameter("Logarithmic", 20, 20_000, "Hz");
const ratio = parameter("Logarithmic", 1, 20, ":1");
const hold = parameter("Linear", 0, 5_000, "ms");

describe("a parameter's slider", () => {
  it.each([threshold, frequency, ratio, hold])(
    "gives back the place that a value was put at, within its rounding",
    (p) => {
      for (let share = 0; share <= 1; share += 0.01) {
        const value = valueAt(p, share);
        expect(value).toBeGreaterThanOrEqual(p.min);
        expect(value).toBeLessThanOrEqual(p.max);
        expect(Math.abs(shareOf(p, value) - share)).toBeLessThan(0.02);
      }
    },
  );

  it("reaches both ends exactly", () => {
    for (const p of [threshold, frequency, ratio, hold]) {
      expect(valueAt(p, 0)).toBe(p.min);
      expect(valueAt(p, 1)).toBe(p.max);
    }
  });
});

describe("a typed value", () => {
  it("is read with its unit, with a comma, and in kHz and s", () => {
    expect(readValue(threshold, "−18,5 dB")).toBe(-18.5);
    expect(readValue(frequency, "3.5 kHz")).toBe(3500);
    expect(readValue(frequency, "440")).toBe(440);
    expect(readValue(hold, "2 s")).toBe(2000);
    expect(readValue(ratio, "4:1")).toBe(4);
  });

  it("is refused beyond what is allowed, and where it is no number", () => {
    expect(readValue(threshold, "3")).toBeNull();
    expect(readValue(frequency, "30 kHz")).toBeNull();
    expect(readValue(threshold, "loud")).toBeNull();
  });

  it("is written with its unit and a true minus", () => {
    expect(valueText(threshold, -18)).toBe("−18.0 dB");
    expect(valueText(frequency, 5500)).toBe("5500 Hz");
    expect(valueText(ratio, 3)).toBe("3.0:1");
  });
});
