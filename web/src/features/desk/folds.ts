import { create } from "zustand";
import type { Fold } from "./laneLayout";

/** Which lanes this person folded or opened, by the mix's id; the room decides about the others. */
export const useFolds = create<{ chosen: Readonly<Record<string, Fold>> }>(() => ({ chosen: {} }));

/** Folds a lane, or opens it. */
export function chooseFold(mix: string, fold: Fold) {
  useFolds.setState(({ chosen }) => ({ chosen: { ...chosen, [mix]: fold } }));
}
