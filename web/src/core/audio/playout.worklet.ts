import { Playout } from "./playout";
import { openRing, type SharedSound } from "./soundRing";

// The scope of an AudioWorklet, as far as it is used here.
declare const currentFrame: number;
declare function registerProcessor(name: string, processor: unknown): void;
declare class AudioWorkletProcessor {
  readonly port: MessagePort;
}

class PlayoutProcessor extends AudioWorkletProcessor {
  readonly #playout: Playout;
  #clock: MessagePort | null = null;

  constructor(options: { processorOptions: SharedSound }) {
    super();
    this.#playout = new Playout(openRing(options.processorOptions));
    this.port.onmessage = ({ data }: MessageEvent<MessagePort>) => {
      this.#clock = data;
    };
  }

  process(_inputs: Float32Array[][], outputs: Float32Array[][]): boolean {
    const [left, right] = outputs[0] ?? [];
    if (left && right) {
      this.#playout.fill(currentFrame, left, right);
      this.#clock?.postMessage(currentFrame + left.length);
    }
    return true;
  }
}

registerProcessor("playout", PlayoutProcessor);
