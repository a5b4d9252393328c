// Owns the meter socket, so that a busy page delays nothing but its own drawing.
import type { MeterLayout } from "./meterFrame";

export type MeterMessage =
  | { kind: "open" }
  | { kind: "closed" }
  | { kind: "layout"; layout: MeterLayout }
  | { kind: "frame"; data: ArrayBuffer };

const retryAfter = 1000;

function connect(url: string) {
  const socket = new WebSocket(url);
  socket.binaryType = "arraybuffer";
  socket.onopen = () => post({ kind: "open" });
  socket.onmessage = (event: MessageEvent<string | ArrayBuffer>) => {
    if (typeof event.data === "string") post({ kind: "layout", layout: JSON.parse(event.data) as MeterLayout });
    else postMessage({ kind: "frame", data: event.data } satisfies MeterMessage, { transfer: [event.data] });
  };
  socket.onclose = () => {
    post({ kind: "closed" });
    setTimeout(() => connect(url), retryAfter);
  };
}

function post(message: MeterMessage) {
  postMessage(message);
}

self.onmessage = (event: MessageEvent<string>) => connect(event.data);
