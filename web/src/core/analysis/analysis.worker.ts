// Owns the analysis socket, so that a busy page delays nothing but its own drawing.
import { analysisHeaderBytes } from "@/core/api/generated/live";

/** What a window wants to look at, under a number of its own. */
export interface Look {
  id: number;
  topic: string;
  of: string | null;
  /** At most so many times a second. */
  rate: number;
}

/** To the worker. */
export type AnalysisOrder =
  | { kind: "connect"; url: string }
  | { kind: "open"; look: Look }
  | { kind: "close"; id: number };

/** From the worker. */
export type AnalysisMessage =
  | { kind: "open" }
  | { kind: "closed" }
  | { kind: "layout"; id: number; values: unknown }
  | { kind: "values"; id: number; data: ArrayBuffer }
  | { kind: "refused"; id: number | null; what: string; allowed: string };

interface Text {
  id: number | null;
  layout?: number;
  values?: unknown;
  what?: string;
  allowed?: string;
}

const retryAfter = 1000;
const looks = new Map<number, Look>();
let socket: WebSocket | null = null;

function connect(url: string) {
  const opened = new WebSocket(url);
  socket = opened;
  opened.binaryType = "arraybuffer";
  opened.onopen = () => {
    for (const look of looks.values()) ask(look);
    post({ kind: "open" });
  };
  opened.onmessage = ({ data }: MessageEvent<string | ArrayBuffer>) => {
    if (typeof data === "string") {
      const text = JSON.parse(data) as Text;
      if (text.layout !== undefined && text.id !== null) post({ kind: "layout", id: text.id, values: text.values });
      else post({ kind: "refused", id: text.id, what: text.what ?? "", allowed: text.allowed ?? "" });
      return;
    }
    const id = new DataView(data).getUint32(0, true);
    if (data.byteLength < analysisHeaderBytes || !looks.has(id)) return;
    postMessage({ kind: "values", id, data } satisfies AnalysisMessage, { transfer: [data] });
  };
  opened.onclose = () => {
    post({ kind: "closed" });
    setTimeout(() => connect(url), retryAfter);
  };
}

function ask({ id, topic, of, rate }: Look) {
  say({ open: id, topic, of, rate });
}

function say(message: unknown) {
  if (socket?.readyState === WebSocket.OPEN) socket.send(JSON.stringify(message));
}

function post(message: AnalysisMessage) {
  postMessage(message);
}

self.onmessage = ({ data }: MessageEvent<AnalysisOrder>) => {
  switch (data.kind) {
    case "connect":
      connect(data.url);
      break;
    case "open":
      looks.set(data.look.id, data.look);
      ask(data.look);
      break;
    case "close":
      looks.delete(data.id);
      say({ close: data.id });
      break;
  }
};
