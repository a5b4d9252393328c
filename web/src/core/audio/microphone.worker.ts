// Owns the socket on which one microphone's sound goes up.
import type { CapturedSound } from "./capture.worklet";

/** What the browser granted, as the server is told. */
export interface Granted {
  sampleRate: number | null;
  channels: number;
  echoCancellation: boolean | null;
  noiseSuppression: boolean | null;
  autoGainControl: boolean | null;
  latencyMs: number | null;
}

export interface Hello {
  client: string;
  window: string;
  device: string;
  granted: Granted;
}

export type ToMicrophoneWorker =
  | { kind: "start"; url: string; hello: Hello; takeOver: boolean; sound: MessagePort }
  | { kind: "stop"; because: "Unplugged" | "Refused" | "WindowClosed" };

/** `joined`: it goes up. `held`: another window gives it. `taken`: another window took over. `unknown`: no source has it. */
export type FromMicrophoneWorker = { kind: "joined" | "held" | "taken" | "unknown" | "away" };

const headerBytes = 16;
const retryAfter = 1000;

/** More than this waits to be sent, bytes: the server is too slow, and new sound is better than old. */
const mostWaiting = 200_000;

let socket: WebSocket | null = null;
let joined = false;
let everJoined = false;
let stopped = false;

function connect(url: string, hello: Hello, takeOver: boolean) {
  const opened = new WebSocket(url);
  socket = opened;
  opened.binaryType = "arraybuffer";
  opened.onopen = () => opened.send(JSON.stringify({ ...hello, takeOver }));
  opened.onmessage = ({ data }: MessageEvent<string>) => {
    const { kind } = JSON.parse(data) as { kind: string };
    if (kind === "joined") {
      joined = true;
      everJoined = true;
      post("joined");
    } else if (kind === "held" || kind === "taken") {
      stopped = true;
      // A window that gave it, and finds another giving it when it comes back, has lost it to that one.
      post(everJoined ? "taken" : kind);
    } else if (kind === "wrong" && !joined) {
      stopped = true;
      post("unknown");
    }
    if (stopped) opened.close();
  };
  opened.onclose = () => {
    joined = false;
    if (stopped) return;
    post("away");
    setTimeout(() => !stopped && connect(url, hello, false), retryAfter);
  };
}

function send({ frame, channels, samples }: CapturedSound) {
  if (!joined || socket?.readyState !== WebSocket.OPEN || socket.bufferedAmount > mostWaiting) return;
  const message = new ArrayBuffer(headerBytes + samples.byteLength);
  const view = new DataView(message);
  view.setFloat64(0, frame, true);
  view.setUint32(8, channels, true);
  view.setUint32(12, samples.length / channels, true);
  new Float32Array(message, headerBytes).set(samples);
  socket.send(message);
}

function post(kind: FromMicrophoneWorker["kind"]) {
  postMessage({ kind } satisfies FromMicrophoneWorker);
}

self.onmessage = ({ data }: MessageEvent<ToMicrophoneWorker>) => {
  if (data.kind === "start") {
    data.sound.onmessage = ({ data: sound }: MessageEvent<CapturedSound>) => send(sound);
    connect(data.url, data.hello, data.takeOver);
  } else {
    stopped = true;
    if (socket?.readyState === WebSocket.OPEN && joined) socket.send(JSON.stringify({ because: data.because }));
    socket?.close();
    self.close();
  }
};
