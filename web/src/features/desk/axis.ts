/** The one loudness axis that all lanes share, LUFS. */
export const axisFrom = -60;
export const axisTo = -6;
export const gridEvery = 6;

/** Every grid line's value, LUFS. */
export const gridValues: readonly number[] = Array.from(
  { length: (axisTo - axisFrom) / gridEvery + 1 },
  (_, i) => axisFrom + i * gridEvery,
);

/** Where a loudness stands, as a share of the axis' width. Held to its ends. */
export function share(lufs: number): number {
  return Math.min(1, Math.max(0, (lufs - axisFrom) / (axisTo - axisFrom)));
}

/** How many LU a number of pixels is. */
export function pixelsToLu(pixels: number, width: number): number {
  return (pixels / width) * (axisTo - axisFrom);
}

/** Where a marker stands: a source's own measured loudness, its send and its mix's gain, LUFS. */
export function markerLufs(reference: number, sendDb: number, mixDb: number): number {
  return reference + sendDb + mixDb;
}
