import { decimal } from "@/shared/look/format";

/** How left and right belong together at a point. */
export interface Stereo {
  /** −1 … 1; not a number where one of both is silent. */
  correlation: number;
  /** The sides over the middle, dB: −∞ is mono; not a number where all is silent. */
  sides: number;
  /** By how much left and right lie beside zero, dBFS: the larger. */
  offset: number;
}

/** What is softer is no constant offset, dBFS. */
const noOffset = -70;

/** Softer sides than these are mono, dB under the middle. */
const mono = -60;

/** From here on, one of both is upside down. */
const opposite = -0.3;

/** How wide it is, whether something is upside down, and by how much it lies beside zero. */
export function wordsOf({ correlation, sides, offset }: Stereo): string {
  if (Number.isNaN(sides)) return "Silence.";
  const away = offset > noOffset ? `A constant offset of ${decimal(offset, 0)} dBFS.` : "No constant offset.";
  if (sides <= mono) return `Mono. ${away}`;
  const width = `The sides are ${decimal(Math.min(99, Math.abs(sides)), 1)} dB ${sides > 0 ? "over" : "under"} the middle`;
  if (Number.isNaN(correlation)) return `${width}: one side alone. ${away}`;
  const lost = correlation < opposite ? " One of them is upside down: in mono, much of it vanishes." : "";
  return `${width}, left and right alike by ${decimal(correlation, 2)}.${lost} ${away}`;
}
