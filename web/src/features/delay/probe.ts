import { sendUp } from "@/core/audio/capture";
import { OutputGraph } from "@/core/audio/graph";
import type { ToMicrophoneWorker } from "@/core/audio/microphone.worker";
import { useOutputs } from "@/core/audio/outputs";
import { startPlayer } from "@/core/audio/player";
import { Place } from "@/core/audio/soundRing";
import { windowId } from "@/core/realtime/identity";
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

/** How long the loops are left to settle, how many bursts are wanted, and after how many it is no use to go on. */
const settleBursts = 8;
const wantedBursts = 6;
const mostBursts = 48;
const longestLag = 19_200;

/**
 * Sends bursts up as a microphone would, through the engine, and down as a mix would, heard by nobody: measures the frames of
 * one clock between worklet in and worklet out.
 */
export async function measureDelay(onProgress: (share: number) => void): Promise<Delay> {
  // On the output that is listened to: its clock, its delay.
  const { context } = await OutputGraph.of(useOutputs.getState().chosen);
  await context.resume();
  await context.audioWorklet.addModule(probeUrl);
  const silent = new GainNode(context, { gain: 0 });
  silent.connect(context.destination);
  const source = new AudioWorkletNode(context, "probe-in", { numberOfInputs: 0, outputChannelCount: [1] });
  source.connect(silent);
  const player = startPlayer(context, () => undefined);
  const out = new AudioWorkletNode(context, "probe-out", { numberOfInputs: 1, outputChannelCount: [1] });
  player.node.connect(out).connect(silent);
  let up: Worker | null = null;
  try {
    up = await join(source);
    player.wish({ source: `probe-${windowId}` });
    const lags = await listen(out, onProgress);
    const upMs = await waitsAtServer();
    if (lags.length === 0) throw new Error(`None of ${mostBursts} bursts came back.`);
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
    up?.postMessage({ kind: "stop", because: "WindowClosed" } satisfies ToMicrophoneWorker);
    player.close();
    source.port.postMessage(null);
    for (const node of [source, out, silent]) node.disconnect();
  }
}

function join(source: AudioWorkletNode): Promise<Worker> {
  const granted = {
    sampleRate: 48000,
    channels: 1,
    echoCancellation: false,
    noiseSuppression: false,
    autoGainControl: false,
    latencyMs: null,
  };
  return new Promise((done, failed) => {
    const worker = sendUp(source, "probe", granted, true, (kind) => {
      if (kind === "joined") done(worker);
      else if (kind !== "away") failed(new Error("The server takes no probe now."));
    });
  });
}

/**
 * Between each burst's frame in and its frame out; the shortest first. Goes on until enough came back whole: on a busy machine
 * sound breaks off now and then, and a burst with it.
 */
function listen(out: AudioWorkletNode, onProgress: (share: number) => void): Promise<number[]> {
  return new Promise((done) => {
    const burst = makeBurst();
    const sound = new Float32Array(burstEvery);
    const lags: number[] = [];
    // What was under way before it was listened to is no whole one.
    let bursts = -1;
    out.port.onmessage = ({ data: { frame, samples } }: MessageEvent<{ frame: number; samples: Float32Array }>) => {
      const at = frame % burstEvery;
      const first = Math.min(samples.length, burstEvery - at);
      sound.set(samples.subarray(0, first), at);
      if (first === samples.length && at + first < burstEvery) return;
      bursts++;
      if (bursts > settleBursts) {
        const lag = findBurst(burst, sound.subarray(0, longestLag + burstFrames));
        if (lag !== null) lags.push(lag);
      }
      sound.fill(0).set(samples.subarray(first));
      onProgress(Math.min(1, (Math.min(bursts, settleBursts) + lags.length) / (settleBursts + wantedBursts)));
      if (lags.length === wantedBursts || bursts === mostBursts) {
        out.port.onmessage = null;
        done(lags.sort((a, b) => a - b));
      }
    };
  });
}

async function waitsAtServer(): Promise<number | null> {
  const response = await fetch(`/api/microphones/probe/${windowId}`);
  if (!response.ok) return null;
  return ((await response.json()) as { latencyMs: number | null }).latencyMs;
}
