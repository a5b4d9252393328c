import { expect, test } from "vitest";
import type { ProcessorType } from "@/core/api/client";
import { movesText, placeAt, plainPlaces, valuesAt } from "./plain";

const type = {
  parameters: [
    { key: "threshold", name: "Threshold", unit: "dB", min: -60, max: 0, default: -20, scale: "Decibels" },
    { key: "ratio", name: "Ratio", unit: ":1", min: 1, max: 20, default: 3, scale: "Logarithmic" },
    {
      key: "shape",
      name: "Shape",
      unit: "",
      min: 0,
      max: 2,
      default: 0,
      scale: "Choice",
      choices: ["Off", "Peak", "Shelf"],
    },
  ],
} as unknown as ProcessorType;
const control = {
  key: "even",
  name: "How even",
  low: "lively",
  high: "even",
  moves: [
    { parameter: "threshold", from: -16, to: -36 },
    { parameter: "ratio", from: 1.5, to: 6 },
    { parameter: "shape", from: 2, to: 2 },
  ],
};

test("both forms show the same state: where the plain control was put is where it is found again", () => {
  for (let place = 0; place <= plainPlaces; place++) {
    const found = placeAt(control, type, valuesAt(control, type, place));
    expect(Math.abs(found.place - place)).toBeLessThanOrEqual(1);
    expect(found.exact).toBe(true);
  }
});

test("its ends are the values that it states", () => {
  expect(valuesAt(control, type, 0)).toEqual({ threshold: -16, ratio: 1.5, shape: 2 });
  expect(valuesAt(control, type, plainPlaces)).toEqual({ threshold: -36, ratio: 6, shape: 2 });
  expect(movesText(control, type)).toBe("Threshold −16.0 dB to −36.0 dB, Ratio 1.5:1 to 6.0:1, Shape shelf");
});

test("what was set by hand is not passed off as its own", () => {
  expect(placeAt(control, type, { threshold: -16, ratio: 6, shape: 2 }).exact).toBe(false);
  expect(placeAt(control, type, { ...valuesAt(control, type, 40), shape: 1 }).exact).toBe(false);
  expect(placeAt(control, type, { threshold: 0, ratio: 1, shape: 2 }).place).toBe(0);
});
