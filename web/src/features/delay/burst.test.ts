import { describe, expect, it } from "vitest";
import { burstFrames, findBurst, makeBurst } from "./burst";

describe("the probe's burst", () => {
  it("is found to the frame, wherever it begins, whatever its level between half and whole", () => {
    const burst = makeBurst();
    for (const [at, gain] of [
      [0, 1],
      [777, 0.6],
      [2976, 1],
    ] as const) {
      const sound = new Float32Array(4000);
      for (let n = 0; n < burstFrames; n++) sound[at + n] = (burst[n] ?? 0) * gain;
      expect(findBurst(burst, sound)).toBe(at);
    }
  });

  it("is found where it arrives between two frames, its heights lost", () => {
    const burst = makeBurst();
    const sound = new Float32Array(4000);
    for (let n = 0; n <= burstFrames; n++) sound[500 + n] = 0.47 * ((burst[n] ?? 0) + (burst[n - 1] ?? 0));
    expect([500, 501]).toContain(findBurst(burst, sound));
  });

  it("is not found where it is not", () => {
    const noise = Float32Array.from({ length: 4000 }, (_, n) => 0.1 * Math.sin(n * n));
    expect(findBurst(makeBurst(), noise)).toBeNull();
    expect(findBurst(makeBurst(), new Float32Array(4000))).toBeNull();
  });

  it("repeats no shift of itself", () => {
    const burst = makeBurst();
    for (let shift = 1; shift < burstFrames; shift++) {
      let sum = 0;
      for (let n = 0; n < burstFrames; n++) sum += (burst[n] ?? 0) * (burst[(n + shift) % burstFrames] ?? 0);
      expect(Math.abs(sum)).toBeLessThan(0.011);
    }
  });
});
