import { describe, expect, it } from "vitest";
import { Playout } from "./playout";
import { Control, makeSharedSound, openRing, Place, type SoundRing, write } from "./soundRing";

const rate = 48000;
const target = 1200;

function setUp() {
  const ring = openRing(makeSharedSound());
  Atomics.store(ring.control, Control.wanted, 1);
  return { ring, playout: new Playout(ring, target) };
}

interface Way {
  /** By how much the engine's clock runs fast. */
  ppm?: number;
  /** The first engine frame. */
  from?: number;
  /** The engine's sound by its frame. */
  sound: (frame: number) => number;
  /** Nothing arrives from, until: seconds. */
  stall?: [number, number];
}

/** Lets the engine's blocks of 256 frames arrive, each late by chance, while quanta of 128 are played in bursts of four. */
function play({ ring, playout }: { ring: SoundRing; playout: Playout }, seconds: number, way: Way) {
  const { ppm = 0, from = 0, sound, stall } = way;
  const heard = new Float32Array(seconds * rate);
  const left = new Float32Array(128);
  const right = new Float32Array(128);
  let sent = from;
  let seed = 7;
  let due = 0;
  for (let own = 0; own < heard.length; own += 128) {
    // The sound output renders four quanta at once, each 512 frames of time.
    const time = Math.floor(own / 512) * 512;
    while (due <= time) {
      const held = stall && due > stall[0] * rate && due < stall[1] * rate ? stall[1] * rate : due;
      if (held > time) break;
      const block = Float32Array.from({ length: 256 }, (_, n) => sound(sent + n));
      write(ring, sent, block, block, held);
      sent += 256;
      seed = (Math.imul(seed, 1664525) + 1013904223) >>> 0;
      due = (sent - from) / (1 + ppm * 1e-6) + (seed / 2 ** 32) * 300;
    }
    playout.fill(own, left, right);
    heard.set(left.subarray(0, Math.min(128, heard.length - own)), own);
  }
  return heard;
}

function sine(frame: number) {
  return 0.5 * Math.sin((2 * Math.PI * 440 * frame) / rate);
}

function largestStep(heard: Float32Array) {
  let most = 0;
  for (let n = 1; n < heard.length; n++) most = Math.max(most, Math.abs((heard[n] ?? 0) - (heard[n - 1] ?? 0)));
  return most;
}

/** The steepest step of the sine itself. */
const steepest = (0.5 * 2 * Math.PI * 440) / rate;

describe("playing out", () => {
  it.each([300, -300, 0])("follows a clock that is off by %i ppm: held latency, no gap, no jump", (ppm) => {
    const parts = setUp();
    const heard = play(parts, 40, { ppm, sound: sine });
    expect(Atomics.load(parts.ring.control, Control.gaps)).toBe(0);
    expect(largestStep(heard)).toBeLessThan(steepest * 1.02);
    expect(parts.ring.places[Place.latency]).toBeGreaterThan(target - 48);
    expect(parts.ring.places[Place.latency]).toBeLessThan(target + 48);
    expect(Math.abs((parts.ring.places[Place.partsPerMillion] ?? 0) - ppm)).toBeLessThan(60);
    // Still the sine, at its level.
    const last = heard.subarray(39 * rate);
    expect(Math.sqrt(last.reduce((sum, x) => sum + x * x, 0) / last.length)).toBeCloseTo(0.5 / Math.SQRT2, 4);
  });

  it("counts a gap when it runs dry, dies away without a click, and is back in its place within a second", () => {
    const parts = setUp();
    const heard = play(parts, 12, { sound: sine, stall: [6, 6.2] });
    expect(Atomics.load(parts.ring.control, Control.gaps)).toBe(1);
    expect(largestStep(heard)).toBeLessThan(steepest * 1.5);
    expect(parts.ring.places[Place.latency]).toBeGreaterThan(target - 48);
    expect(parts.ring.places[Place.latency]).toBeLessThan(target + 48);
    expect(heard.subarray(7.2 * rate, 7.3 * rate).some((x) => Math.abs(x) > 0.4)).toBe(true);
  });

  it("an end that was wanted is no gap", () => {
    const parts = setUp();
    play(parts, 2, { sound: sine });
    Atomics.store(parts.ring.control, Control.wanted, 0);
    const quantum = new Float32Array(128);
    for (let own = 2 * rate; own < 3 * rate; own += 128) parts.playout.fill(own, quantum, new Float32Array(128));
    expect(quantum.every((x) => x === 0)).toBe(true);
    expect(Atomics.load(parts.ring.control, Control.gaps)).toBe(0);
  });

  it("an engine that starts over is heard again", () => {
    const parts = setUp();
    play(parts, 2, { from: 1_000_000, sound: sine });
    const heard = play(parts, 3, { sound: sine });
    expect(heard.subarray(2 * rate).some((x) => Math.abs(x) > 0.4)).toBe(true);
  });

  it("frames that the server left out are silence of their length", () => {
    const { ring } = setUp();
    const ones = new Float32Array(256).fill(1);
    write(ring, 0, ones, ones, 0);
    write(ring, 512, ones, ones, 512);
    expect(ring.places[Place.end]).toBe(768);
    expect(ring.left[255]).toBe(1);
    expect(ring.left.subarray(256, 512).every((x) => x === 0)).toBe(true);
    expect(ring.left[512]).toBe(1);
  });
});
