/** The lowest and the highest frequency that is drawn, Hz. */
const low = 20;
const high = 20_000;

/** Where a frequency stands, 0 to 1. */
export function shareOfHertz(hertz: number): number {
  return Math.log(hertz / low) / Math.log(high / low);
}

/** The frequency at a place, Hz. */
export function hertzAt(share: number): number {
  return low * (high / low) ** Math.min(1, Math.max(0, share));
}

/** Frequencies that have a line, and those that have a number. */
export const hertzLines = [
  30, 40, 50, 60, 70, 80, 90, 100, 200, 300, 400, 500, 600, 700, 800, 900, 1e3, 2e3, 3e3, 4e3, 5e3, 6e3, 7e3, 8e3, 9e3,
  1e4,
];
export const hertzNumbers = [50, 100, 200, 500, 1e3, 2e3, 5e3, 1e4];

export function hertzText(hertz: number): string {
  return hertz >= 1000 ? `${hertz / 1000} k` : String(hertz);
}

/** A range of decibels that stands upright: where a level stands in a height, from its top. */
export interface Upright {
  top: number;
  bottom: number;
}

export function yOf({ top, bottom }: Upright, height: number, decibels: number): number {
  const share = (top - decibels) / (top - bottom);
  return Math.min(1.05, Math.max(-0.05, share)) * height;
}

export function decibelsAt({ top, bottom }: Upright, height: number, y: number): number {
  return top - (y / height) * (top - bottom);
}

/** What a response is drawn within. */
export const responseRange: Upright = { top: 18, bottom: -18 };
/** What a spectrum is drawn within, dBFS. */
export const spectrumRange: Upright = { top: 0, bottom: -96 };
/** What levels are drawn within, dBFS. */
export const levelRange: Upright = { top: 0, bottom: -80 };
