import { ClockTracker } from "./clockTracker";

/** What is heard first may still be early or late: wait for a tenth of a second of arrivals. */
const firstLook = 4_800;

/** Off by more than this, 10 ms, it starts over in the right place instead of running after it. */
const maxOff = 480;

/** For a bad way, which breaks the sound off twice within ten seconds: so much more latency at least, up to 40 ms. */
const moreEach = 240;
const mostMore = 1_920;

/** So long without need, and latency is given back. While the clock is first learnt, nothing is said of the way. */
const soonFrames = 480_000;

/** What is left over when some latency is given back. */
const spareFrames = 96;

const settleFrames = 48_000;
const speedFrames = settleFrames / 4;
const maxSlew = 2e-3;

/** What to read for one block. */
export interface ReadStep {
  /** False: there is nothing. */
  sounds: boolean;
  /** With this block the sound begins, or begins again. */
  begins: boolean;
  /** The sound has broken off with the block before. */
  ends: boolean;
  /** The other clock's frame of the block's first frame. */
  position: number;
  /** Frames of the other clock for each of ours, near 1. */
  step: number;
}

/**
 * Steers where sound of another clock is read, so that it stays behind its arrival by a fixed latency, only by running
 * slightly faster or slower. The server's ReadHead is the same. One object is handed out again and again.
 */
export class ReadHead {
  readonly #target: number;
  #clock = new ClockTracker();
  #position = 0;
  #slew = 0;
  #firstSeen = 0;
  #playing = false;
  #more = 0;
  #lastGap = Number.NEGATIVE_INFINITY;
  #dryFrom = Number.NaN;
  #oftenDry = false;
  #lookFrom = 0;
  #leastSpare = Number.POSITIVE_INFINITY;
  readonly #step: ReadStep = { sounds: false, begins: false, ends: false, position: 0, step: 1 };

  gaps = 0;

  /** Frames by which the reading lies behind the earliest arrival; NaN while nothing sounds. */
  latency = Number.NaN;

  constructor(targetFrames: number) {
    this.#target = targetFrames;
  }

  /** By how much the other clock runs fast, ppm. */
  get partsPerMillion(): number {
    return this.#clock.rate * 1e6;
  }

  /** Frames before `other` had arrived at the time `own` of ours. */
  observe(other: number, own: number) {
    if (!this.#clock.known) this.#firstSeen = own;
    this.#clock.observe(other, own);
  }

  /** The other side starts over: its clock is learnt anew. */
  rejoin() {
    this.#clock = new ClockTracker();
    this.#more = 0;
  }

  /** Decides on the next block, of so many frames, which begins with our frame `own`. */
  next(own: number, frames: number, oldest: number, available: number): ReadStep {
    const step = this.#step;
    step.begins = false;
    step.ends = false;
    if (!this.#clock.known || own - this.#firstSeen < firstLook)
      return this.#playing ? this.#breakOff(own, false) : this.#silent();
    let wanted = this.#clock.at(own) - this.#target - this.#more;
    if (!this.#playing) {
      if (wanted < oldest || wanted + frames > available) return this.#silent();
      step.begins = true;
      this.#holdMore(own);
      wanted = Math.max(oldest, this.#clock.at(own) - this.#target - this.#more);
      this.#position = wanted;
      this.#slew = this.#clock.rate;
      this.#playing = true;
    }
    const off = wanted - this.#position;
    const speed = this.#clock.rate + Math.min(maxSlew, Math.max(-maxSlew, off / settleFrames));
    this.#slew += ((speed - this.#slew) * frames) / speedFrames;
    const each = 1 + this.#slew;
    const end = this.#position + each * frames;
    if (end > available || this.#position < oldest || Math.abs(off) > maxOff)
      return this.#breakOff(own, end > available);
    this.#giveBack(own, available - end);
    step.sounds = true;
    step.position = this.#position;
    step.step = each;
    this.latency = this.#clock.at(own) - this.#position;
    this.#position = end;
    return step;
  }

  #breakOff(own: number, dry: boolean): ReadStep {
    this.#playing = false;
    this.latency = Number.NaN;
    this.gaps++;
    this.#oftenDry = own - this.#lastGap < soonFrames && own - this.#firstSeen > soonFrames;
    this.#lastGap = own;
    this.#dryFrom = dry ? own : Number.NaN;
    this.#step.sounds = false;
    this.#step.begins = false;
    this.#step.ends = true;
    return this.#step;
  }

  #holdMore(own: number) {
    const dryFor = own - this.#dryFrom;
    if (this.#oftenDry && dryFor <= mostMore) this.#more = Math.min(mostMore, this.#more + Math.max(moreEach, dryFor));
    this.#dryFrom = Number.NaN;
    this.#lookFrom = own;
    this.#leastSpare = Number.POSITIVE_INFINITY;
  }

  #giveBack(own: number, spare: number) {
    this.#leastSpare = Math.min(this.#leastSpare, spare);
    if (own - this.#lookFrom < soonFrames) return;
    this.#more -= Math.max(0, Math.min(this.#leastSpare - spareFrames, this.#more, moreEach));
    this.#lookFrom = own;
    this.#leastSpare = Number.POSITIVE_INFINITY;
  }

  #silent(): ReadStep {
    this.#step.sounds = false;
    return this.#step;
  }
}
