// The scope of an AudioWorklet, as far as it is used here.
declare const currentFrame: number;
declare function registerProcessor(name: string, processor: unknown): void;
declare class AudioWorkletProcessor {
  readonly port: MessagePort;
}

/** One quantum of a microphone: the sound output's frame that it begins with, and each channel's samples one after the other. */
export interface CapturedSound {
  frame: number;
  channels: number;
  samples: Float32Array;
}

/** Hands what a microphone gives to the Worker that owns its socket, quantum by quantum. */
class CaptureProcessor extends AudioWorkletProcessor {
  #to: MessagePort | null = null;

  constructor() {
    super();
    this.port.onmessage = ({ data }: MessageEvent<MessagePort | null>) => {
      this.#to = data;
    };
  }

  process(inputs: Float32Array[][]): boolean {
    const input = inputs[0] ?? [];
    const channels = Math.min(input.length, 8);
    if (channels > 0 && this.#to) {
      const frames = input[0]?.length ?? 0;
      const samples = new Float32Array(channels * frames);
      for (let c = 0; c < channels; c++) samples.set(input[c] as Float32Array, c * frames);
      this.#to.postMessage({ frame: currentFrame, channels, samples } satisfies CapturedSound, [samples.buffer]);
    }
    return true;
  }
}

registerProcessor("capture", CaptureProcessor);
