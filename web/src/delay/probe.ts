import { startPlayer } from "../listen/player";
import { Place } from "../listen/soundRing";
import { browserId, windowId } from "../live/identity";
import { socketUrl } from "../live/socketUrl";
import type { FromMicrophoneWorker, ToMicrophoneWorker } from "../microphones/microphone.worker";
import { soundContext } from "../sound/context";
import { burstEvery, burstFrames, findBurst, makeBurst } from "./burst";
import probeUrl from "./probe.worklet.ts?worker&url";

/** What was measured, ms. */
export interface Delay {
  /** From one worklet through the engine to the other: the middle of what was measured, and the longest. */
  whole: number;
  longest: number;
  /** How long the sound waits at the server, held by its control loop. */
  up: number | null;
  /** How long it waits in this window, held by its own. */
  down: number | null;
  /** What the devices themselves add, as the browser states it. */
  output: number;
  /** How many bursts came back. */
  bursts: number;
}

/** How long the loops are left to settle, and how many bursts are listened for. */
const settleBursts = 8;
const wantedBursts = 6;
const longestLag = 9_600;

/**
 * Sends bursts up as a microphone would, through the engine, and down as a mix would, heard by nobody: measures the frames of
 * one clock between worklet in and worklet out.
 */
export async function measureDelay(onProgress: (share: number) => void): Promise<Delay> {
  const context = await soundContext();
  await context.resume();
  await context.audioWorklet.addModule(probeUrl);
  const silent = new GainNode(context, { gain: 0 });
  silent.connect(context.destination);
  const source = new AudioWorkletNode(context, "probe-in", { numberOfInputs: 0, outputChannelCount: [1] });
  source.connect(silent);
  const up = new Worker(new URL("../microphones/microphone.worker.ts", import.meta.url), {
    type: "module",
    name: "probe",
  });
  const player = startPlayer(context, () => undefined);
  const out = new AudioWorkletNode(context, "probe-out", { numberOfInputs: 1, outputChannelCount: [1] });
  player.node.connect(out).connect(silent);
  try {
    await join(up, source);
    player.wish({ source: `probe-${windowId}` });
    const heard = await listen(out, onProgress);
    const upMs = await waitsAtServer();
    const lags = lagsOf(heard);
    if (lags.length === 0) throw new Error("No burst came back.");
    const down = player.ring.places[Place.latency] as number;
    return {
      whole: (lags[Math.floor(lags.length / 2)] as number) / 48,
      longest: (lags.at(-1) as number) / 48,
      up: upMs,
      down: Number.isNaN(down) ? null : down / 48,
      output: ((context.outputLatency ?? 0) + context.baseLatency) * 1000,
      bursts: lags.length,
    };
  } finally {
    up.postMessage({ kind: "stop", because: "WindowClosed" } satisfies ToMicrophoneWorker);
    player.close();
    source.port.postMessage(null);
    for (const node of [source, out, silent]) node.disconnect();
  }
}

function join(worker: Worker, source: AudioWorkletNode): Promise<void> {
  const sound = new MessageChannel();
  source.port.postMessage(sound.port1, [sound.port1]);
  return new Promise((done, failed) => {
    worker.onmessage = ({ data: { kind } }: MessageEvent<FromMicrophoneWorker>) => {
      if (kind === "joined") done();
      else if (kind !== "away") failed(new Error("The server takes no probe now."));
    };
    const granted = {
      sampleRate: 48000,
      channels: 1,
      echoCancellation: false,
      noiseSuppression: false,
      autoGainControl: false,
      latencyMs: null,
    };
    worker.postMessage(
      {
        kind: "start",
        url: socketUrl("/api/microphone"),
        hello: { client: browserId, window: windowId, device: "probe", granted },
        takeOver: true,
        sound: sound.port2,
      } satisfies ToMicrophoneWorker,
      [sound.port2],
    );
  });
}

interface Heard {
  from: number;
  sound: Float32Array;
}

function listen(out: AudioWorkletNode, onProgress: (share: number) => void): Promise<Heard> {
  return new Promise((done) => {
    let first: number | null = null;
    const settle = settleBursts * burstEvery;
    const sound = new Float32Array((wantedBursts + 1) * burstEvery);
    out.port.onmessage = ({ data }: MessageEvent<{ frame: number; samples: Float32Array }>) => {
      first ??= data.frame;
      const at = data.frame - first - settle;
      onProgress(Math.min(1, (at + settle) / (settle + sound.length)));
      if (at >= 0 && at + data.samples.length <= sound.length) sound.set(data.samples, at);
      if (at >= sound.length) {
        out.port.onmessage = null;
        done({ from: first + settle, sound });
      }
    };
  });
}

// Between each burst's frame in and its frame out; the shortest first.
function lagsOf({ from, sound }: Heard): number[] {
  const burst = makeBurst();
  const lags: number[] = [];
  for (let sent = Math.ceil(from / burstEvery) * burstEvery; ; sent += burstEvery) {
    const at = sent - from;
    if (at + longestLag + burstFrames > sound.length) break;
    const lag = findBurst(burst, sound.subarray(at, at + longestLag + burstFrames));
    if (lag !== null) lags.push(lag);
  }
  return lags.sort((a, b) => a - b);
}

async function waitsAtServer(): Promise<number | null> {
  const response = await fetch(`/api/microphones/probe/${windowId}`);
  if (!response.ok) return null;
  return ((await response.json()) as { latencyMs: number | null }).latencyMs;
}
