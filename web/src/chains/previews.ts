import { makePreviews } from "../live/previews";

/** Parameters of processors that are being turned, here or in another window. */
export const turns = makePreviews<number>();

export function turnKey(processor: string, parameter: string): string {
  return `${processor}/${parameter}`;
}
