import type { Gain } from "../api/client";
import { makePreviews } from "../live/previews";

/** Gains of sends that are being dragged, here or in another window. */
export const drags = makePreviews<Gain>();

export function dragKey(mix: string, source: string): string {
  return `${mix}/${source}`;
}
