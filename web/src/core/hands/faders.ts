/** Where 0 dB lies on a fader, of 1. */
const unity = 0.75;
const lowest = -60;
const highest = 12;

/** The gain at a fader's position, dB: 0 dB at three quarters, linear in dB on both sides; null: off, at the very bottom. */
export function gainAt(position: number): number | null {
  if (position <= 0) return null;
  const gain = position < unity ? lowest * (1 - position / unity) : (highest * (position - unity)) / (1 - unity);
  return Math.round(Math.min(highest, gain) * 10) / 10;
}

/** The position of a gain: what is below the fader's range lies at its bottom. */
export function positionFor(gain: number | null): number {
  if (gain === null || gain <= lowest) return 0;
  return gain < 0 ? unity * (1 - gain / lowest) : Math.min(1, unity + (gain * (1 - unity)) / highest);
}

/** What a control of seven bits cannot tell apart. */
const near = 1.5 / 127;

/**
 * A fader takes hold of a level only where it meets it: until then moving it does nothing, so that nothing jumps. When the level becomes another by
 * another hand, it has to be met again.
 */
export class PickUp {
  private last: number | null = null;
  private given: number | null = null;

  /**
   * The fader moves.
   * @param position Where it is, 0 to 1.
   * @param at Where the level is, 0 to 1.
   * @returns Whether it has hold of the level.
   */
  move(position: number, at: number): boolean {
    const held = this.given !== null && Math.abs(at - this.given) <= near;
    const met =
      Math.abs(position - at) <= near ||
      (this.last !== null && Math.min(this.last, position) <= at && at <= Math.max(this.last, position));
    this.last = position;
    const has = held || met;
    this.given = has ? position : null;
    return has;
  }

  /** The device itself was moved to where the level is. */
  moved(position: number) {
    this.last = position;
    this.given = position;
  }
}
