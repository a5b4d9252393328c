/** A clock that is further off than this is held to it: 1 000 ppm. */
const maxRate = 1e-3;
const windowFrames = 24_000;
const firstMemory = 4;
const maxMemory = 100;

/** Off by more than this, 5 ms, is no jitter: the other side stood still, or has started over. */
const stepFrames = 240;

/**
 * Learns how another clock stands against our own, from when its frames arrived here. A frame can arrive late, but never
 * early: so of each half second the earliest arrival is taken, and a line is laid through those by an α-β filter whose
 * memory grows to 50 s. Units: frames of each clock. The server's ClockTracker is the same.
 * Source: E. Brookner, "Tracking and Kalman Filtering Made Easy", 1998, chapter 1.
 */
export class ClockTracker {
  #ahead = 0;
  #rate = 0;
  #at = 0;
  #windowStart = 0;
  #best = Number.NEGATIVE_INFINITY;
  #memory = 0;
  #offWindows = 0;
  #known = false;

  get known(): boolean {
    return this.#known;
  }

  /** By how much the other clock runs fast: 1e-6 is 1 ppm. */
  get rate(): number {
    return this.#rate;
  }

  /** The other clock's frame that arrives at this time of ours, when nothing delays it. */
  at(own: number): number {
    return own + this.#ahead + this.#rate * (own - this.#at);
  }

  /** All frames before `other` had arrived at the time `own`. Times do not go back. */
  observe(other: number, own: number) {
    if (!this.#known) {
      this.#known = true;
      this.#restart(other - own, own);
      return;
    }
    if (own - this.#windowStart >= windowFrames) this.#close(own);
    const early = other - this.at(own);
    if (early > stepFrames || (this.#memory === 0 && early > 0)) {
      // Nothing arrives before it was made: the line was wrong, and is laid anew from here.
      this.#ahead += early;
      this.#best = 0;
      this.#memory = Math.min(this.#memory, firstMemory);
      return;
    }
    this.#best = Math.max(this.#best, early);
  }

  #restart(ahead: number, own: number) {
    this.#ahead = ahead;
    this.#at = own;
    this.#windowStart = own;
    this.#best = Number.NEGATIVE_INFINITY;
    this.#memory = 0;
    this.#offWindows = 0;
  }

  #close(own: number) {
    const best = this.#best;
    const length = own - this.#windowStart;
    this.#ahead += this.#rate * (own - this.#at);
    this.#at = own;
    this.#windowStart = own;
    this.#best = Number.NEGATIVE_INFINITY;
    // Nothing came: the clock is taken to go on as it did.
    if (best === Number.NEGATIVE_INFINITY) return;
    this.#offWindows = best < -stepFrames ? this.#offWindows + 1 : 0;
    // One bad half second is a stall on the way; two are a step of the clock itself.
    if (this.#offWindows === 1) return;
    if (this.#offWindows > 1) {
      this.#restart(this.#ahead + best, own);
      return;
    }
    this.#memory = this.#memory === 0 ? firstMemory : Math.min(this.#memory + 1, maxMemory);
    const n = this.#memory;
    this.#ahead += ((2 * (2 * n + 1)) / ((n + 1) * (n + 2))) * best;
    const rate = this.#rate + ((6 / ((n + 1) * (n + 2))) * best) / length;
    this.#rate = Math.min(maxRate, Math.max(-maxRate, rate));
  }
}
