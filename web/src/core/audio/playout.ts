import { ahead, behind, StereoValue } from "./fractionalDelay";
import { ReadHead } from "./readHead";
import { arrivalNotes, Control, Place, ringFrames, type SoundRing } from "./soundRing";

/** The latency that is held between arrival and sound, frames: a burst of each side, and jitter. */
export const targetFrames = 1_200;

/** What the writer may be touching while the reader reads. */
const guard = 2_048;
const fadeFrames = 256;

/**
 * Reads the ring for an AudioWorklet, resampled from the engine's clock to the sound output's, at a held latency. It fades in,
 * and where it runs dry, what sounded last dies away: a gap is counted and heard as a breath of silence, not as a click.
 */
export class Playout {
  readonly #ring: SoundRing;
  readonly #head: ReadHead;
  readonly #value = new StereoValue();
  #lastLeft = 0;
  #lastRight = 0;
  #fade = fadeFrames;
  #rejoins = 0;
  #unwanted = 0;

  constructor(ring: SoundRing, target = targetFrames) {
    this.#ring = ring;
    this.#head = new ReadHead(target);
  }

  /** Fills one quantum, which begins with the sound output's frame `own`. */
  fill(own: number, left: Float32Array, right: Float32Array) {
    const { control, places } = this.#ring;
    this.#takeArrivals();
    const end = places[Place.end] as number;
    const step = this.#head.next(own, left.length, end - ringFrames + guard + behind, end - ahead - 1);
    if (step.ends && Atomics.load(control, Control.wanted) !== 1) this.#unwanted++;
    Atomics.store(control, Control.gaps, this.#head.gaps - this.#unwanted);
    places[Place.latency] = this.#head.latency;
    places[Place.partsPerMillion] = this.#head.partsPerMillion;
    if (!step.sounds) {
      this.#dieAway(left, right);
      return;
    }
    if (step.begins) this.#fade = 0;
    for (let n = 0; n < left.length; n++) {
      this.#read(step.position + n * step.step);
      if (this.#fade < fadeFrames) {
        const t = ++this.#fade / fadeFrames;
        const shape = t * t * (3 - 2 * t);
        this.#lastLeft *= shape;
        this.#lastRight *= shape;
      }
      left[n] = this.#lastLeft;
      right[n] = this.#lastRight;
    }
  }

  #takeArrivals() {
    const { control, arrivals } = this.#ring;
    const rejoins = Atomics.load(control, Control.rejoins);
    if (rejoins !== this.#rejoins) {
      this.#rejoins = rejoins;
      this.#head.rejoin();
    }
    let read = Atomics.load(control, Control.arrivalsRead);
    for (; read !== Atomics.load(control, Control.arrivalsWritten); read = (read + 1) | 0) {
      const at = (read & (arrivalNotes - 1)) * 2;
      this.#head.observe(arrivals[at] as number, arrivals[at + 1] as number);
    }
    Atomics.store(control, Control.arrivalsRead, read);
  }

  #read(position: number) {
    const whole = Math.floor(position);
    this.#value.read(this.#ring.left, this.#ring.right, (whole - behind) % ringFrames, position - whole);
    this.#lastLeft = this.#value.left;
    this.#lastRight = this.#value.right;
  }

  #dieAway(left: Float32Array, right: Float32Array) {
    for (let n = 0; n < left.length; n++) {
      this.#lastLeft = Math.abs(this.#lastLeft) < 1e-6 ? 0 : this.#lastLeft * 0.985;
      this.#lastRight = Math.abs(this.#lastRight) < 1e-6 ? 0 : this.#lastRight * 0.985;
      left[n] = this.#lastLeft;
      right[n] = this.#lastRight;
    }
  }
}
