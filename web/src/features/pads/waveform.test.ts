import { expect, test } from "vitest";
import type { Pad, StoredSound } from "@/core/api/client";
import { columnsOf, lengthText, outlineOf, secondsOf } from "./waveform";

test("an outline shows the part that it is of, highest where that is loudest", () => {
  const columns = new Float32Array(400);
  columns[300] = 1;
  const points = [...outlineOf(columns, 0.5, 1, 20).matchAll(/([\d.]+) ([\d.]+)/g)].map((m) => Number(m[2]));
  expect(points).toHaveLength(40);
  expect(points.indexOf(Math.min(...points))).toBe(10);
  expect(Math.min(...points)).toBeCloseTo(2, 0);
  const quiet = outlineOf(columns, 0, 0.5, 20);
  expect(Math.min(...[...quiet.matchAll(/ ([\d.]+)/g)].map((m) => Number(m[1])))).toBeGreaterThan(45);
});

test("a part shorter than a column is drawn as that column", () => {
  const columns = new Float32Array(400).fill(0.5);
  expect(outlineOf(columns, 0.9999, 1, 4)).toMatch(/^M0\.0 /);
});

test("columns are read from what is stored", () => {
  expect([...columnsOf({ columns: btoa(String.fromCharCode(0, 255)) } as StoredSound)]).toEqual([0, 1]);
});

test.each([
  [0.42, "0.4 s"],
  [9.99, "10.0 s"],
  [59.4, "59 s"],
  [185, "3:05"],
])("%d s is written %s", (seconds, text) => expect(lengthText(seconds)).toBe(text));

test("a pad ends with its sound, whatever it says", () => {
  expect(secondsOf({ begin: 500, end: 900_000 } as Pad, { seconds: 2 } as StoredSound)).toBeCloseTo(1.5);
  expect(secondsOf({ begin: 500, end: 1000 } as Pad, undefined)).toBeCloseTo(0.5);
});
