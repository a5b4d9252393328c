/** Samples that one value is made of. */
export const taps = 48;

/** How many samples after the one at or before a place its value needs; before it: one fewer. */
export const ahead = taps / 2;
export const behind = ahead - 1;

const phases = 512;
const beta = 11;

function besselI0(x: number): number {
  let sum = 1;
  let term = 1;
  for (let k = 1; term > sum * 1e-17; k++) {
    term *= (x * x) / (4 * k * k);
    sum += term;
  }
  return sum;
}

function makeTable(): Float32Array {
  const table = new Float32Array((phases + 1) * taps);
  const weights = new Float64Array(taps);
  for (let phase = 0; phase <= phases; phase++) {
    let sum = 0;
    for (let k = 0; k < taps; k++) {
      const t = k - behind - phase / phases;
      const x = t / ahead;
      const window = Math.abs(x) >= 1 ? 0 : besselI0(beta * Math.sqrt(1 - x * x)) / besselI0(beta);
      weights[k] = (Math.abs(t) < 1e-12 ? 1 : Math.sin(Math.PI * t) / (Math.PI * t)) * window;
      sum += weights[k] ?? 0;
    }
    for (let k = 0; k < taps; k++) table[phase * taps + k] = (weights[k] ?? 0) / sum;
  }
  return table;
}

const table = makeTable();

/** Two channels of a signal between their samples. */
export class StereoValue {
  left = 0;
  right = 0;

  /**
   * Reads both at the place `fraction` frames behind sample `at + behind`: a Kaiser-windowed sinc, its phases joined by
   * straight lines. `taps` samples from `at` on are used. The server's FractionalDelay is the same.
   */
  read(lefts: Float32Array, rights: Float32Array, at: number, fraction: number) {
    const place = fraction * phases;
    const phase = Math.min(Math.floor(place), phases - 1);
    const part = place - phase;
    const low = phase * taps;
    const high = low + taps;
    let left = 0;
    let right = 0;
    for (let k = 0; k < taps; k++) {
      const from = table[low + k] as number;
      const weight = from + ((table[high + k] as number) - from) * part;
      left += weight * (lefts[at + k] as number);
      right += weight * (rights[at + k] as number);
    }
    this.left = left;
    this.right = right;
  }
}
