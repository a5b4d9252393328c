import { useConnection } from "@/core/realtime/connection";
import { socketUrl } from "@/core/realtime/socketUrl";
import type { AnalysisMessage, AnalysisOrder } from "./analysis.worker";

/** Who looks at a topic. */
export interface Watcher {
  /** What is to be known to read the values that follow. */
  layout?: (values: unknown) => void;
  /** The newest values, as the topic writes them, behind `analysisHeaderBytes`. */
  values: (data: ArrayBuffer) => void;
  /** Nothing comes for now: the server is away. It is asked again by itself. */
  closed?: () => void;
  /** It cannot be looked at. */
  refused?: (what: string, allowed: string) => void;
}

const watchers = new Map<number, Watcher>();
let worker: Worker | null = null;
let nextId = 1;

function theWorker(): Worker {
  if (worker) return worker;
  const made = new Worker(new URL("./analysis.worker.ts", import.meta.url), { type: "module", name: "analysis" });
  worker = made;
  made.onmessage = ({ data }: MessageEvent<AnalysisMessage>) => {
    switch (data.kind) {
      case "open":
        useConnection.setState({ meters: true });
        break;
      case "closed":
        useConnection.setState({ meters: false });
        for (const watcher of watchers.values()) watcher.closed?.();
        break;
      case "layout":
        watchers.get(data.id)?.layout?.(data.values);
        break;
      case "values":
        watchers.get(data.id)?.values(data.data);
        break;
      case "refused":
        if (data.id !== null) watchers.get(data.id)?.refused?.(data.what, data.allowed);
        break;
    }
  };
  tell({ kind: "connect", url: socketUrl("/api/analysis") });
  return made;
}

function tell(order: AnalysisOrder) {
  theWorker().postMessage(order);
}

/**
 * Looks at live data of the server: what nobody looks at, it does not compute.
 * @param topic Its name there.
 * @param of What of; null: the topic has only one.
 * @param rate At most so many times a second, 1 to 125.
 * @returns Looks no more.
 */
export function watch(topic: string, of: string | null, rate: number, watcher: Watcher): () => void {
  const id = nextId++;
  watchers.set(id, watcher);
  tell({ kind: "open", look: { id, topic, of, rate } });
  return () => {
    watchers.delete(id);
    tell({ kind: "close", id });
  };
}
