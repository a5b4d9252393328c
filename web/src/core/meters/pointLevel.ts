import { watch } from "@/core/analysis/analysis";
import { analysisHeaderBytes, MixMeter, SourceMeter } from "@/core/api/generated/live";
import { meters } from "./meters";

const silence = Number.NEGATIVE_INFINITY;

/** Points that no meter frame has, by what looks at them: one look each, however many show it. */
const looks = new Map<string, { point: string; users: number; peak: number; close: () => void }>();

/** The highest of left and right of a message of the topic “point”, dBFS; −∞ where it is none. */
export function peakOf(message: ArrayBuffer): number {
  if (message.byteLength < analysisHeaderBytes + 32) return silence;
  const view = new DataView(message, analysisHeaderBytes);
  return Math.max(view.getFloat32(16, true), view.getFloat32(24, true));
}

function look(point: string) {
  const known = looks.get(point);
  if (known) {
    known.users++;
    return known;
  }
  const made = { point, users: 1, peak: Number.NaN, close: () => {} };
  made.close = watch("point", point, 31, {
    values: (message) => {
      made.peak = peakOf(message);
    },
    closed: () => {
      made.peak = Number.NaN;
    },
  });
  looks.set(point, made);
  return made;
}

/** Reads the highest sample at any one point of the signal since the last meters, dBFS, until it is closed; not a number: not known yet. */
export function watchPoint(point: string): { read: () => number; close: () => void } {
  const [kind, id = "", tap] = point.split("/");
  const close = () => {};
  if (kind === "source" && tap === undefined) return { read: () => meters.source(id, SourceMeter.peak), close };
  if (kind === "mix" && tap === undefined) return { read: () => meters.mix(id, MixMeter.peak), close };
  if (kind !== "source" && kind !== "mix" && kind !== "stage") return { read: () => meters.bus(point), close };
  // What a mix is before its own gain is kept nowhere: told is what it is after it.
  const one = look(kind === "mix" ? `mix/${id}/before` : point);
  return {
    read: () => one.peak,
    close: () => {
      if (--one.users > 0) return;
      looks.delete(one.point);
      one.close();
    },
  };
}
