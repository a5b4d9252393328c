/** Which values stand in a meter frame, as the server announces it. */
export interface MeterLayout {
  layout: number;
  sources: string[];
  mixes: string[];
  processors: string[];
}

/** One frame of all meters, as it came: see the meter socket of the server. */
export interface MeterFrame {
  frame: number;
  load: number;
  lateBlocks: number;
  hushed: boolean;
  recording: boolean;
  recordedSeconds: number;
  layout: number;
  values: Float32Array;
}

export const sourceValues = 8;
export const mixValues = 11;
export const processorValues = 3;

/** Places of the values of a source (all eight) and of a mix (the first five). */
export const Value = {
  peak: 0,
  peakHold: 1,
  rms: 2,
  momentary: 3,
  shortTerm: 4,
  reference: 5,
  clips: 6,
  clipsIn: 7,
} as const;

/** Places of the values that only a mix has. */
export const MixValue = {
  truePeakHold: 5,
  truePeakMost: 6,
  integrated: 7,
  range: 8,
  correlation: 9,
  latency: 10,
} as const;

/** Places of the values of a processor: dB, frames, what it does as a gate. */
export const ProcessorValue = { reduction: 0, latency: 1, gate: 2 } as const;

/** What a gate does, by its value; what is no gate, or is bypassed, does nothing. */
export const gateStates = ["", "shut", "open", "holding"] as const;

const headerBytes = 32;

/** Reads a binary message of the meter socket. Null: not one. */
export function readMeterFrame(message: ArrayBuffer): MeterFrame | null {
  if (message.byteLength < headerBytes || message.byteLength % 4 !== 0) return null;
  const view = new DataView(message);
  const flags = view.getUint32(16, true);
  return {
    frame: view.getFloat64(0, true),
    load: view.getFloat32(8, true),
    lateBlocks: view.getUint32(12, true),
    hushed: (flags & 1) !== 0,
    recording: (flags & 2) !== 0,
    layout: view.getUint32(20, true),
    recordedSeconds: view.getFloat64(24, true),
    values: new Float32Array(message, headerBytes),
  };
}

/** Finds values by what they belong to. −∞ where a frame or its layout does not have them. */
export class MeterReading {
  #layout: MeterLayout | null = null;
  #frame: MeterFrame | null = null;
  readonly #sources = new Map<string, number>();
  readonly #mixes = new Map<string, number>();
  readonly #processors = new Map<string, number>();
  readonly #references = new Map<string, number>();

  setLayout(layout: MeterLayout) {
    this.#layout = layout;
    this.#frame = null;
    this.#sources.clear();
    this.#mixes.clear();
    this.#processors.clear();
    layout.sources.forEach((id, i) => {
      this.#sources.set(id, i);
    });
    layout.mixes.forEach((id, i) => {
      this.#mixes.set(id, i);
    });
    layout.processors.forEach((id, i) => {
      this.#processors.set(id, i);
    });
  }

  setFrame(frame: MeterFrame | null) {
    this.#frame = frame !== null && frame.layout === this.#layout?.layout ? frame : null;
  }

  get frame(): MeterFrame | null {
    return this.#frame;
  }

  source(id: string, value: number): number {
    return this.#at(this.#sources.get(id), (i) => i * sourceValues + value);
  }

  /**
   * Reference loudness of a source, LUFS. The last one known counts until there is another: a server that is away, or has
   * just come back, makes no marker jump.
   */
  reference(id: string): number {
    const now = this.source(id, Value.reference);
    if (now > Number.NEGATIVE_INFINITY) {
      this.#references.set(id, now);
      return now;
    }
    return this.#references.get(id) ?? now;
  }

  mix(id: string, value: number): number {
    return this.#at(this.#mixes.get(id), (i) => this.#sources.size * sourceValues + i * mixValues + value);
  }

  /** Momentary loudness of a send, LUFS: what it adds to its mix before the mix's own gain. */
  send(mix: string, source: string): number {
    const s = this.#sources.get(source);
    const base = this.#sources.size * sourceValues + this.#mixes.size * mixValues;
    return this.#at(this.#mixes.get(mix), (m) => (s === undefined ? Number.NaN : base + m * this.#sources.size + s));
  }

  /** What a processor does now. */
  processor(id: string, value: number): number {
    const [s, m] = [this.#sources.size, this.#mixes.size];
    return this.#at(
      this.#processors.get(id),
      (i) => s * sourceValues + m * (mixValues + s) + i * processorValues + value,
    );
  }

  #at(index: number | undefined, place: (index: number) => number): number {
    if (index === undefined || this.#frame === null) return Number.NEGATIVE_INFINITY;
    return this.#frame.values[place(index)] ?? Number.NEGATIVE_INFINITY;
  }
}
