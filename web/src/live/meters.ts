import { useConnection } from "./connection";
import { MeterReading, readMeterFrame } from "./meterFrame";
import type { MeterMessage } from "./meters.worker";
import { socketUrl } from "./socketUrl";

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
  const worker = new Worker(new URL("./meters.worker.ts", import.meta.url), { type: "module", name: "meters" });
  worker.onmessage = ({ data }: MessageEvent<MeterMessage>) => {
    switch (data.kind) {
      case "open":
        useConnection.setState({ meters: true });
        break;
      case "closed":
        useConnection.setState({ meters: false });
        meters.setFrame(null);
        break;
      case "layout":
        meters.setLayout(data.layout);
        break;
      case "frame":
        received.frames++;
        meters.setFrame(readMeterFrame(data.data));
        break;
    }
  };
  worker.postMessage(socketUrl("/api/meters"));
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
