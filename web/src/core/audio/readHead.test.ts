import { describe, expect, it } from "vitest";
import { ReadHead } from "./readHead";

const second = 48_000;
const target = 1_700;

/** The engine as a window sees it: 256 frames at a time, its clock off by some ppm, each late by chance, now and then by 15 ms. */
class Engine {
  readonly #rate: number;
  #seed = 11;
  #block = 1;
  #next = 0;
  #last = 0;

  constructor(ppm: number) {
    this.#rate = 1 + ppm * 1e-6;
    this.#next = this.#arrival();
  }

  /** Frames that it has made by a time. */
  made(own: number): number {
    return own * this.#rate;
  }

  #random(): number {
    this.#seed = (Math.imul(this.#seed, 1664525) + 1013904223) >>> 0;
    return this.#seed / 2 ** 32;
  }

  #arrival(): number {
    const late = this.#random() < 0.002 ? 720 : 20 + 384 * this.#random();
    this.#last = Math.max(this.#last, (this.#block * 256) / this.#rate + late);
    return this.#last;
  }

  /** Tells all that has arrived by a time, and returns up to which frame. */
  arrive(own: number, head: ReadHead): number {
    while (this.#next <= own) {
      head.observe(this.#block * 256, this.#next);
      this.#block++;
      this.#next = this.#arrival();
    }
    return (this.#block - 1) * 256;
  }
}

describe("reading sound of another clock", () => {
  it.each([300, -300])(
    "over ten hours at %i ppm, latency stays within a millisecond and nothing is dropped or repeated",
    { timeout: 60_000 },
    (ppm) => {
      const engine = new Engine(ppm);
      const head = new ReadHead(target);
      let least = Number.POSITIVE_INFINITY;
      let most = Number.NEGATIVE_INFINITY;
      let next = Number.NaN;
      let jumps = 0;
      let silent = 0;
      for (let own = 0; own < 36_000 * second; own += 512) {
        const available = engine.arrive(own, head);
        const step = head.next(own, 512, available - 30_000, available);
        if (own > 60 * second) {
          if (!step.sounds) silent++;
          if (Math.abs(step.position - next) > 1e-6) jumps++;
          const latency = engine.made(own) - step.position;
          least = Math.min(least, latency);
          most = Math.max(most, latency);
        }
        next = step.position + 512 * step.step;
      }
      expect({ silent, jumps, gaps: head.gaps }).toEqual({ silent: 0, jumps: 0, gaps: 0 });
      expect(most - least).toBeLessThan(2 * 48);
      expect(Math.abs(head.partsPerMillion - ppm)).toBeLessThan(30);
    },
  );
});
