import type { Pad, StoredSound } from "@/core/api/client";

/** The columns of a stored waveform, 0 to 1. */
export function columnsOf(sound: Pick<StoredSound, "columns">): Float32Array {
  return Float32Array.from(atob(sound.columns), (c) => c.charCodeAt(0) / 255);
}

/**
 * The outline of a waveform, both halves alike, in a box of 100 × 100.
 * @param columns 0 to 1.
 * @param from Its first column, as a share of all.
 * @param to Its end, as a share of all.
 * @param points How many points it has on each side.
 */
export function outlineOf(columns: Float32Array, from: number, to: number, points: number): string {
  const [first, last] = [from * columns.length, Math.max(to * columns.length, from * columns.length + 1)];
  const highs: number[] = [];
  for (let p = 0; p < points; p++) {
    const begin = first + ((last - first) * p) / points;
    const end = Math.max(begin + 1, first + ((last - first) * (p + 1)) / points);
    let most = 0;
    for (let c = Math.floor(begin); c < Math.min(columns.length, Math.ceil(end)); c++)
      most = Math.max(most, columns[c] ?? 0);
    // Drawn by its root: what is 20 dB down is still to be seen.
    highs.push(Math.max(0.03, Math.sqrt(most)));
  }
  const x = (p: number) => ((100 * p) / (points - 1)).toFixed(1);
  const up = highs.map((h, p) => `${x(p)} ${(50 - 48 * h).toFixed(1)}`);
  const down = highs.map((h, p) => `${x(p)} ${(50 + 48 * h).toFixed(1)}`).reverse();
  return `M${up.join("L")}L${down.join("L")}Z`;
}

/** How long a pad plays, seconds; a sound that is not known yet counts as long as the pad says. */
export function secondsOf(pad: Pad, sound: StoredSound | undefined): number {
  return Math.max(0, Math.min(pad.end / 1000, sound?.seconds ?? Number.POSITIVE_INFINITY) - pad.begin / 1000);
}

/** A length: "0.4 s", "12 s", "3:05". */
export function lengthText(seconds: number): string {
  if (seconds < 10) return `${seconds.toFixed(1)} s`;
  if (seconds < 60) return `${Math.round(seconds)} s`;
  const whole = Math.round(seconds);
  return `${Math.floor(whole / 60)}:${String(whole % 60).padStart(2, "0")}`;
}
