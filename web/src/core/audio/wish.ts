/** What is listened to, one of them: a mix, a source, or any other point as text. None: nothing. */
export interface Wish {
  mix?: string;
  source?: string;
  point?: string;
  /** Of an output of a browser that mixes go to: the window that plays it. */
  window?: string;
  /** Another window loses it. */
  takeOver?: boolean;
}

/** Whether that is anything. */
export const isAny = (wish: Wish) => wish.mix !== undefined || wish.source !== undefined || wish.point !== undefined;
