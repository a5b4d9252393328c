import { describe, expect, it } from "vitest";
import { Playout, targetFrames } from "./playout";
import { Control, makeSharedSound, openRing, ringFrames, waiting, write } from "./soundRing";

function setUp() {
  const ring = openRing(makeSharedSound());
  Atomics.store(ring.control, Control.wanted, 1);
  return { ring, playout: new Playout(ring) };
}

function ramp(from: number, count: number) {
  return Float32Array.from({ length: count }, (_, n) => (from + n) / 1e6);
}

function play(playout: Playout, frames: number): Float32Array {
  const all = new Float32Array(frames);
  for (let at = 0; at < frames; at += 128) playout.fill(all.subarray(at, at + 128), new Float32Array(128));
  return all;
}

describe("playing out", () => {
  it("waits until enough has come, then plays every frame once and in order", () => {
    const { ring, playout } = setUp();
    write(ring, ramp(0, targetFrames - 1), ramp(0, targetFrames - 1));
    expect(play(playout, 1280).every((x) => x === 0)).toBe(true);
    write(ring, ramp(targetFrames - 1, 4097), ramp(0, 4097));
    const heard = play(playout, 5120);
    for (let n = 480; n < heard.length; n++) expect(heard[n]).toBe(Math.fround(n / 1e6));
    expect(Atomics.load(ring.control, Control.gaps)).toBe(0);
  });

  it("counts a gap when it runs dry, dies away without a click, and begins again once enough has come", () => {
    const { ring, playout } = setUp();
    write(ring, new Float32Array(targetFrames).fill(0.5), new Float32Array(targetFrames));
    const heard = play(playout, targetFrames + 1280);
    expect(Atomics.load(ring.control, Control.gaps)).toBe(1);
    for (let n = 1; n < heard.length; n++) expect(Math.abs((heard[n] ?? 0) - (heard[n - 1] ?? 0))).toBeLessThan(0.01);
    expect(heard.at(-1)).toBeLessThan(1e-3);
    write(ring, new Float32Array(targetFrames).fill(0.5), new Float32Array(targetFrames));
    expect(play(playout, 640).at(-1)).toBe(0.5);
  });

  it("an end that was wanted is no gap", () => {
    const { ring, playout } = setUp();
    write(ring, new Float32Array(targetFrames), new Float32Array(targetFrames));
    play(playout, 256);
    Atomics.store(ring.control, Control.wanted, 0);
    play(playout, targetFrames);
    expect(Atomics.load(ring.control, Control.gaps)).toBe(0);
  });

  it("skips what has piled up, and counts it", () => {
    const { ring, playout } = setUp();
    write(ring, ramp(0, 20000), ramp(0, 20000));
    play(playout, 128);
    expect(Atomics.load(ring.control, Control.dropped)).toBe(20000 - targetFrames);
    expect(waiting(ring.control)).toBe(targetFrames - 128);
  });

  it("never overwrites what has not been played", () => {
    const { ring } = setUp();
    write(ring, ramp(0, ringFrames), ramp(0, ringFrames));
    write(ring, ramp(0, 10), ramp(0, 10));
    expect(Atomics.load(ring.control, Control.dropped)).toBe(10);
    expect(waiting(ring.control)).toBe(ringFrames);
  });
});
