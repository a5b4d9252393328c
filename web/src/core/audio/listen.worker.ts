// Owns the socket on which sound comes down, and hands the sound to the AudioWorklet through shared memory.
import { ClockTracker } from "./clockTracker";
import { Control, openRing, type SharedSound, type SoundRing, write } from "./soundRing";
import type { Wish } from "./wish";

export type ToListenWorker =
  | { kind: "start"; url: string; sound: SharedSound; clock: MessagePort }
  | { kind: "wish"; wish: Wish };
export type FromListenWorker =
  | { kind: "open" }
  | { kind: "closed" }
  /** By how many LU what is auditioned is louder with than without. */
  | { kind: "matched"; difference: number }
  | { kind: "wrong"; where: string; what: string; allowed: string };

const headerBytes = 16;
const retryAfter = 1000;
let socket: WebSocket | null = null;
let wish: Wish = {};

// The sound output's clock against this Worker's own, which is counted in frames too.
const output = new ClockTracker();

function now(): number {
  return performance.now() * 48;
}

function connect(url: string, ring: SoundRing) {
  const opened = new WebSocket(url);
  socket = opened;
  opened.binaryType = "arraybuffer";
  opened.onopen = () => {
    post({ kind: "open" });
    opened.send(JSON.stringify(wish));
  };
  opened.onmessage = (event: MessageEvent<string | ArrayBuffer>) => {
    if (typeof event.data === "string") {
      const said = JSON.parse(event.data) as { where: string; what: string; allowed: string } | { difference: number };
      post("difference" in said ? { kind: "matched", difference: said.difference } : { kind: "wrong", ...said });
      return;
    }
    const view = new DataView(event.data);
    const frames = view.getUint32(8, true);
    Atomics.store(ring.control, Control.lost, view.getUint32(12, true));
    const samples = new Float32Array(event.data, headerBytes);
    if (!output.known) return;
    const frame = view.getFloat64(0, true);
    write(ring, frame, samples.subarray(0, frames), samples.subarray(frames, 2 * frames), output.at(now()));
  };
  opened.onclose = () => {
    post({ kind: "closed" });
    setTimeout(() => connect(url, ring), retryAfter);
  };
}

function post(message: FromListenWorker) {
  postMessage(message);
}

self.onmessage = ({ data }: MessageEvent<ToListenWorker>) => {
  if (data.kind === "start") {
    data.clock.onmessage = ({ data: rendered }: MessageEvent<number>) => output.observe(rendered, now());
    connect(data.url, openRing(data.sound));
  } else {
    wish = data.wish;
    if (socket?.readyState === WebSocket.OPEN) socket.send(JSON.stringify(wish));
  }
};
