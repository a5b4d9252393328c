import { Control, ringFrames, type SoundRing, waiting } from "./soundRing";

/** Frames that wait before the sound begins: 43 ms at 48 kHz. */
export const targetFrames = 2048;

/** More than this, and the oldest are skipped: 150 ms. */
const mostFrames = 7200;

const fadeFrames = 480;

/**
 * Reads the ring for an AudioWorklet: waits until enough has come, fades in, plays, and fades out when it runs dry, so
 * that a gap is counted and heard as a breath of silence, not as a click.
 */
export class Playout {
  readonly #ring: SoundRing;
  #playing = false;
  #gain = 0;
  #lastLeft = 0;
  #lastRight = 0;

  constructor(ring: SoundRing) {
    this.#ring = ring;
  }

  get playing(): boolean {
    return this.#playing;
  }

  /** Fills one quantum. */
  fill(left: Float32Array, right: Float32Array) {
    const { control } = this.#ring;
    if (!this.#playing && waiting(control) >= targetFrames) this.#playing = true;
    if (this.#playing && waiting(control) > mostFrames) {
      const skip = waiting(control) - targetFrames;
      Atomics.add(control, Control.dropped, skip);
      Atomics.add(control, Control.read, skip);
      this.#gain = 0;
    }
    for (let n = 0; n < left.length; n++) this.#next(left, right, n);
  }

  #next(left: Float32Array, right: Float32Array, n: number) {
    const { control } = this.#ring;
    if (this.#playing && waiting(control) > 0) {
      const place = Atomics.load(control, Control.read) & (ringFrames - 1);
      Atomics.add(control, Control.read, 1);
      this.#gain = Math.min(1, this.#gain + 1 / fadeFrames);
      const shape = this.#gain === 1 ? 1 : 0.5 - 0.5 * Math.cos(Math.PI * this.#gain);
      this.#lastLeft = (this.#ring.left[place] ?? 0) * shape;
      this.#lastRight = (this.#ring.right[place] ?? 0) * shape;
    } else {
      if (this.#playing) {
        this.#playing = false;
        if (Atomics.load(control, Control.wanted) === 1) Atomics.add(control, Control.gaps, 1);
      }
      // What was sounding last dies away in a few milliseconds.
      this.#gain = 0;
      this.#lastLeft = Math.abs(this.#lastLeft) < 1e-6 ? 0 : this.#lastLeft * 0.985;
      this.#lastRight = Math.abs(this.#lastRight) < 1e-6 ? 0 : this.#lastRight * 0.985;
    }
    left[n] = this.#lastLeft;
    right[n] = this.#lastRight;
  }
}
