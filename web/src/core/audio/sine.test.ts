import { expect, it } from "vitest";
import { fft } from "../../../../tests/e2e/support/fft";
import { Playout } from "./playout";
import { Control, makeSharedSound, openRing, write } from "./soundRing";

/** What is there beside a sine and 5 % around it, up to 20 kHz, dB against the sine (as AES17 measures it). */
function distortionAndNoise(samples: Float32Array, hertz: number): number {
  const n = samples.length;
  // Side lobes below −180 dB: H.-H. Albrecht, "A family of cosine-sum windows for high-resolution measurements", ICASSP 2001.
  const terms = [
    0.27105140069342, -0.43329793923448, 0.21812299954311, -0.06592544638803, 0.01081174209837, -0.00077658482522,
    0.00001388721735,
  ];
  const re = Float64Array.from(
    samples,
    (x, i) => x * terms.reduce((w, t, k) => w + t * Math.cos((2 * Math.PI * k * i) / n), 0),
  );
  const im = new Float64Array(n);
  fft(re, im, false);
  let sine = 0;
  let rest = 0;
  for (let bin = 8; bin < (20_000 * n) / 48_000; bin++) {
    const power = (re[bin] as number) ** 2 + (im[bin] as number) ** 2;
    if (Math.abs((bin * 48_000) / n - hertz) <= hertz * 0.05) sine += power;
    else rest += power;
  }
  return 10 * Math.log10(rest / sine);
}

it.each([
  [300, 997],
  [-300, 10_007],
])(
  "a sine from a clock that is off by %i ppm stays a sine of %i Hz for a minute, 100 dB clean",
  { timeout: 60_000 },
  (ppm, hertz) => {
    const ring = openRing(makeSharedSound());
    Atomics.store(ring.control, Control.wanted, 1);
    const playout = new Playout(ring, 1_700);
    const left = new Float32Array(128);
    const right = new Float32Array(128);
    const block = new Float32Array(256);
    const heard = new Float32Array(32_768);
    let sent = 0;
    let seed = 5;
    let due = 0;
    let worst = Number.NEGATIVE_INFINITY;
    for (let own = 0; own < 75 * 48_000; own += 128) {
      while (due <= own) {
        for (let n = 0; n < 256; n++) block[n] = 0.5 * Math.sin((2 * Math.PI * hertz * (sent + n)) / 48_000);
        write(ring, sent, block, block, due);
        sent += 256;
        seed = (Math.imul(seed, 1664525) + 1013904223) >>> 0;
        due = sent / (1 + ppm * 1e-6) + (seed / 2 ** 32) * 400;
      }
      playout.fill(own, left, right);
      heard.set(left, own % heard.length);
      if (own > 15 * 48_000 && (own + 128) % heard.length === 0)
        worst = Math.max(worst, distortionAndNoise(heard, hertz));
    }
    expect(Atomics.load(ring.control, Control.gaps)).toBe(0);
    expect(worst).toBeLessThan(-100);
  },
);
