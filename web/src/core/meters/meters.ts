import { watch } from "@/core/analysis/analysis";
import { type MeterLayout, MeterReading, readMeterFrame } from "./meterFrame";

/** The newest meter values. Read it while drawing; React never sees it. */
export const meters = new MeterReading();

type Painter = (now: number) => void;
const painters = new Set<Painter>();

/** Without news, something may still have changed its size: so often it is drawn all the same, ms. */
const paintAtLeastEvery = 250;
let dirty = true;

/** Has everything drawn with the next picture of the screen, though no meters have come. */
export function repaint() {
  dirty = true;
}

/** Calls back before a picture of the screen that has something new: meters, or what `repaint` was called for. */
export function onPaint(painter: Painter): () => void {
  painters.add(painter);
  repaint();
  return () => painters.delete(painter);
}

/** How many meter frames came in so far; tests and the health of the page look at it. */
export const received = { frames: 0 };

export function startMeters() {
  watch("levels", null, 125, {
    layout: (values) => meters.setLayout(values as MeterLayout),
    values: (data) => {
      received.frames++;
      meters.setFrame(readMeterFrame(data));
    },
    closed: () => meters.setFrame(null),
  });
  let painted = 0;
  let frames = 0;
  const paint = (now: number) => {
    if (dirty || frames !== received.frames || now - painted > paintAtLeastEvery) {
      dirty = false;
      frames = received.frames;
      painted = now;
      for (const painter of painters) painter(now);
    }
    requestAnimationFrame(paint);
  };
  requestAnimationFrame(paint);
}
