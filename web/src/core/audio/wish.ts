/** A form of a chain's sound, for oneself alone: without a processor or all, only what one changes, or one part of it. */
export interface Audition {
  /** The point that the chain leads to. */
  place: string;
  kind: "Without" | "Change" | "Part";
  processor?: string;
  part?: number;
}

/** A loop on the bench: one of its variants, or one of two that are compared without saying which is which. */
export interface BenchWish {
  loop: string;
  /** A variant, or “plain”: the sound without any. */
  variant?: string;
  /** A blind comparison, and which of both. */
  blind?: string;
  which?: 1 | 2;
}

/** What is listened to, one of them: a mix, a source, or any other point as text. None: nothing. */
export interface Wish {
  mix?: string;
  source?: string;
  point?: string;
  /** A form of a chain's sound that nobody else hears. */
  audition?: Audition;
  /** A loop on the bench, which nobody else hears. */
  bench?: BenchWish;
  /** Of an output of a browser that mixes go to: the window that plays it. */
  window?: string;
  /** Another window loses it. */
  takeOver?: boolean;
}

/** Whether that is anything. */
export const isAny = (wish: Wish) =>
  wish.mix !== undefined ||
  wish.source !== undefined ||
  wish.point !== undefined ||
  wish.audition !== undefined ||
  wish.bench !== undefined;

/** Whether two wishes are for the same sound. */
export function isSame(a: Wish, b: Wish): boolean {
  return (
    a.mix === b.mix &&
    a.source === b.source &&
    a.point === b.point &&
    a.audition?.place === b.audition?.place &&
    a.audition?.kind === b.audition?.kind &&
    a.audition?.processor === b.audition?.processor &&
    a.audition?.part === b.audition?.part &&
    a.bench?.loop === b.bench?.loop &&
    a.bench?.variant === b.bench?.variant &&
    a.bench?.blind === b.bench?.blind &&
    a.bench?.which === b.bench?.which
  );
}
