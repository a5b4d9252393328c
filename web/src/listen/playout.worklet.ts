import { Playout } from "./playout";
import { openRing, type SharedSound } from "./soundRing";

// The scope of an AudioWorklet, as far as it is used here.
declare const registerProcessor: (name: string, processor: unknown) => void;
declare class AudioWorkletProcessor {
  readonly port: MessagePort;
}

class PlayoutProcessor extends AudioWorkletProcessor {
  readonly #playout: Playout;

  constructor(options: { processorOptions: SharedSound }) {
    super();
    this.#playout = new Playout(openRing(options.processorOptions));
  }

  process(_inputs: Float32Array[][], outputs: Float32Array[][]): boolean {
    const [left, right] = outputs[0] ?? [];
    if (left && right) this.#playout.fill(left, right);
    return true;
  }
}

registerProcessor("playout", PlayoutProcessor);
