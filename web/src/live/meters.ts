import { useConnection } from "./connection";
import { MeterReading, readMeterFrame } from "./meterFrame";
import type { MeterMessage } from "./meters.worker";
import { socketUrl } from "./socketUrl";

/** The newest meter values. Read it while drawing; React never sees it. */
export const meters = new MeterReading();

type Painter = (now: number) => void;
const painters = new Set<Painter>();

/** Calls back before each picture of the screen, for as long as anything is to be drawn. */
export function onPaint(painter: Painter): () => void {
  painters.add(painter);
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
  const paint = (now: number) => {
    for (const painter of painters) painter(now);
    requestAnimationFrame(paint);
  };
  requestAnimationFrame(paint);
}
