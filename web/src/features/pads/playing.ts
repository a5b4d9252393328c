import { watch } from "@/core/analysis/analysis";
import { analysisHeaderBytes } from "@/core/api/generated/live";
import { tell } from "@/core/notices/notices";
import { askServer, tellServer } from "@/core/realtime/hub";

/** The pads that this window holds down, by what holds them: a key's code, or the pointer. */
const held = new Map<string, string>();

/**
 * Presses a pad of the live show.
 * @param by What holds it: it is let go by the same.
 */
export function pressPad(show: string, pad: string, by: string) {
  releasePad(by);
  held.set(by, pad);
  askServer("PressPad", show, pad, 0).catch((error: Error) => tell("wrong", "This pad is not played.", error.message));
}

/** Lets go of what something held. */
export function releasePad(by: string) {
  const pad = held.get(by);
  if (pad === undefined) return;
  held.delete(by);
  tellServer("ReleasePad", pad);
}

/** Lets go of everything: the window has lost the focus, and would not hear of a key that goes up. */
export function releaseAll() {
  for (const by of [...held.keys()]) releasePad(by);
}

/** How far each pad has come that sounds: the press that began last. Read it while drawing. */
export type Sounding = ReadonlyMap<string, number>;

type Hear = (sounding: Sounding) => void;
const hearers = new Set<Hear>();
let sounding = new Map<string, number>();
let stop: (() => void) | null = null;

/** Hears which pads sound, some thirty times a second, for as long as somebody wants to know. */
export function onSounding(hear: Hear): () => void {
  hearers.add(hear);
  hear(sounding);
  stop ??= follow();
  return () => {
    hearers.delete(hear);
    if (hearers.size > 0) return;
    stop?.();
    stop = null;
    sounding = new Map();
  };
}

function follow() {
  let pads: string[] = [];
  const tellAll = () => {
    for (const hear of hearers) hear(sounding);
  };
  return watch("pads", null, 30, {
    layout: (values) => {
      pads = (values as { pads: string[] }).pads;
    },
    values: (data) => {
      const view = new DataView(data, analysisHeaderBytes);
      const now = new Map<string, number>();
      pads.forEach((pad, i) => {
        // Of several presses, the one that has come least far began last; one that fades out counts where there is no other.
        const part = view.getFloat32(8 * i, true);
        const known = now.get(pad);
        if (known === undefined || part < known) now.set(pad, part);
      });
      sounding = now;
      tellAll();
    },
    closed: () => {
      sounding = new Map();
      tellAll();
    },
  });
}
