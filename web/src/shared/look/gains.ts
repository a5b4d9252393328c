import type { Gain } from "@/core/api/client";
import { parseGain } from "./format";

/** A typed gain within what may be set. */
export function readGain(text: string): Gain | null {
  const gain = parseGain(text);
  return gain === "off" || (gain !== null && gain >= -120 && gain <= 12) ? gain : null;
}
