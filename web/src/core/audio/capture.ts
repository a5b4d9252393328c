import { browserId, windowId } from "@/core/realtime/identity";
import { socketUrl } from "@/core/realtime/socketUrl";
import type { FromMicrophoneWorker, Granted, ToMicrophoneWorker } from "./microphone.worker";

/** Why a capture ends, as the server is told. */
export type Ended = Extract<ToMicrophoneWorker, { kind: "stop" }>["because"];

const measuredSamples = 2048;

/** What one input of the browser gives, by the clock of one output: measured, or sent up. It holds the input until it is stopped. */
export class Capture {
  readonly granted: Granted;
  readonly #source: MediaStreamAudioSourceNode;
  #analysers: AnalyserNode[] | null = null;
  #node: AudioWorkletNode | null = null;
  #worker: Worker | null = null;
  #stopped = false;

  constructor(
    readonly context: AudioContext,
    readonly stream: MediaStream,
    private readonly leave: () => void,
  ) {
    const track = stream.getAudioTracks()[0];
    if (!track) {
      leave();
      throw new DOMException("The input has no sound.", "NotFoundError");
    }
    this.granted = grantedBy(track);
    this.#source = context.createMediaStreamSource(stream);
  }

  /** Told when the device stops giving: it was pulled out, or the browser took it away. */
  set onEnded(told: (() => void) | null) {
    const track = this.stream.getAudioTracks()[0];
    if (track) track.onended = told;
  }

  /** The highest sample of each channel now, dBFS. */
  peaks(): number[] {
    this.#analysers ??= this.#measure();
    const samples = new Float32Array(measuredSamples);
    return this.#analysers.map((analyser) => {
      analyser.getFloatTimeDomainData(samples);
      let peak = 0;
      for (const x of samples) peak = Math.max(peak, Math.abs(x));
      return 20 * Math.log10(peak);
    });
  }

  /** Sends it up as the input of that name; with `takeOver`, another window that gives it loses it. */
  send(device: string, takeOver: boolean, hear: (kind: FromMicrophoneWorker["kind"]) => void) {
    const node = new AudioWorkletNode(this.context, "capture", {
      numberOfInputs: 1,
      numberOfOutputs: 0,
      channelCount: this.granted.channels,
      channelCountMode: "explicit",
      channelInterpretation: "discrete",
    });
    this.#source.connect(node);
    this.#node = node;
    this.#worker = sendUp(node, device, this.granted, takeOver, hear);
  }

  /** Ends it, and gives the device back. The server is told why, where it was being sent. */
  stop(because: Ended) {
    if (this.#stopped) return;
    this.#stopped = true;
    this.onEnded = null;
    this.#source.disconnect();
    this.#node?.port.postMessage(null);
    this.#worker?.postMessage({ kind: "stop", because } satisfies ToMicrophoneWorker);
    for (const track of this.stream.getTracks()) track.stop();
    this.leave();
  }

  #measure(): AnalyserNode[] {
    const splitter = new ChannelSplitterNode(this.context, { numberOfOutputs: this.granted.channels });
    this.#source.connect(splitter);
    return Array.from({ length: this.granted.channels }, (_, c) => {
      const analyser = new AnalyserNode(this.context, { fftSize: measuredSamples });
      splitter.connect(analyser, c);
      return analyser;
    });
  }
}

/** Has a Worker send up what a worklet captures; it lives until it is told to stop. */
export function sendUp(
  node: AudioWorkletNode,
  device: string,
  granted: Granted,
  takeOver: boolean,
  hear: (kind: FromMicrophoneWorker["kind"]) => void,
): Worker {
  const sound = new MessageChannel();
  node.port.postMessage(sound.port1, [sound.port1]);
  const worker = new Worker(new URL("./microphone.worker.ts", import.meta.url), { type: "module", name: "microphone" });
  worker.onmessage = ({ data: { kind } }: MessageEvent<FromMicrophoneWorker>) => hear(kind);
  worker.postMessage(
    {
      kind: "start",
      url: socketUrl("/api/microphone"),
      hello: { client: browserId, window: windowId, device, granted },
      takeOver,
      sound: sound.port2,
    } satisfies ToMicrophoneWorker,
    [sound.port2],
  );
  return worker;
}

function grantedBy(track: MediaStreamTrack): Granted {
  const settings = track.getSettings() as MediaTrackSettings & { latency?: number };
  const flag = (value: unknown) => (typeof value === "boolean" ? value : null);
  return {
    sampleRate: settings.sampleRate ?? null,
    channels: Math.min(8, Math.max(1, settings.channelCount ?? 1)),
    echoCancellation: flag(settings.echoCancellation),
    noiseSuppression: flag(settings.noiseSuppression),
    autoGainControl: flag(settings.autoGainControl),
    latencyMs: settings.latency === undefined ? null : settings.latency * 1000,
  };
}
