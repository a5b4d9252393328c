import { expect, test } from "vitest";
import { isLit, momentsBetween } from "./flashing";

const signal = { cycleSeconds: 4, flashSeconds: 0.1, times: [0, 0.7, 2.5], beep: [] };

test("all moments come once, whatever pieces they are asked for in, across cycles too", () => {
  const whole = momentsBetween(signal, 0, 20);
  expect(whole).toEqual([0, 1, 2, 3, 4].flatMap((c) => signal.times.map((t) => 4 * c + t)));
  for (const step of [0.016, 0.3, 1, 5]) {
    const pieces: number[] = [];
    for (let from = 0; from < 20 - 1e-9; from += step)
      pieces.push(...momentsBetween(signal, from, Math.min(20, from + step)));
    expect(pieces).toEqual(whole);
  }
});

test("it is bright from each moment on for as long as a flash lasts, and before the beginning it is dark", () => {
  for (let ms = -1000; ms < 12_000; ms++) {
    const seconds = ms / 1000;
    const expected = momentsBetween(signal, 0, 12).some((t) => seconds >= t - 1e-9 && seconds < t + 0.1 - 1e-9);
    expect(isLit(signal, seconds + 1e-9), `${ms}`).toBe(expected);
  }
});
