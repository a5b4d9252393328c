import type { CapturedSound } from "@/core/audio/capture.worklet";
import { burstEvery, burstFrames, makeBurst } from "./burst";

// The scope of an AudioWorklet, as far as it is used here.
declare const currentFrame: number;
declare function registerProcessor(name: string, processor: unknown): void;
declare class AudioWorkletProcessor {
  readonly port: MessagePort;
}

/** Stands where a microphone's worklet stands: gives the burst, timed by the sound output's clock. */
class ProbeIn extends AudioWorkletProcessor {
  readonly #burst = makeBurst();
  #to: MessagePort | null = null;

  constructor() {
    super();
    this.port.onmessage = ({ data }: MessageEvent<MessagePort | null>) => {
      this.#to = data;
    };
  }

  process(_inputs: Float32Array[][], outputs: Float32Array[][]): boolean {
    const frames = outputs[0]?.[0]?.length ?? 128;
    const samples = new Float32Array(frames);
    for (let n = 0; n < frames; n++) {
      const place = (currentFrame + n) % burstEvery;
      if (place < burstFrames) samples[n] = this.#burst[place] ?? 0;
    }
    this.#to?.postMessage({ frame: currentFrame, channels: 1, samples } satisfies CapturedSound, [samples.buffer]);
    return true;
  }
}

/** Stands behind the playout's worklet: tells what came, and when. */
class ProbeOut extends AudioWorkletProcessor {
  process(inputs: Float32Array[][]): boolean {
    const input = inputs[0]?.[0];
    if (input) this.port.postMessage({ frame: currentFrame, samples: input.slice() });
    return true;
  }
}

registerProcessor("probe-in", ProbeIn);
registerProcessor("probe-out", ProbeOut);
