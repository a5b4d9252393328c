import type { Source } from "@/core/api/client";
import { foldedHeight, lanePadding } from "./laneLayout";

/** Below this height a row has its text and its sign in one line with its bar, px. */
const tight = 20;

/** Where a source stands in a lane, from the lane's upper edge, px. */
export interface Row {
  source: Source;
  top: number;
  height: number;
  /** All stand on one line: a sign alone says which it is. */
  folded: boolean;
}

/** The rows of an open lane, one below the other. */
export function rowsOf(sources: readonly Source[], height: number): Row[] {
  return sources.map((source, i) => ({ source, top: lanePadding.top + i * height, height, folded: false }));
}

/** The one line of a folded lane, on which all stand. */
export function foldedRows(sources: readonly Source[]): Row[] {
  return sources.map((source) => ({ source, top: 5, height: foldedHeight - 14, folded: true }));
}

/** Where the bar of how loud it is now is drawn. */
export function barOf({ top, height }: Row): { top: number; height: number } {
  return height < tight ? { top: top + height - 3, height: 2 } : { top: top + height - 6, height: 3 };
}

/** The sizes of a marker's parts, px. */
export function markerOf({ height }: Row): {
  sign: number;
  signTop: number;
  text: number;
  textTop: number;
  tick: number;
} {
  if (height < tight) return { sign: Math.min(13, height), signTop: 0, text: 11, textTop: (height - 12) / 2, tick: 5 };
  return { sign: 16, signTop: (height - 10) / 2 - 9, text: 13, textTop: (height - 10) / 2 - 6, tick: 9 };
}
