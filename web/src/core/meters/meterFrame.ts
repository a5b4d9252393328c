import {
  analysisHeaderBytes,
  levelsHeaderBytes,
  MixMeter,
  ProcessorMeter,
  SourceMeter,
} from "@/core/api/generated/live";

/** Which values stand in a meter frame, as the server announces it. */
export interface MeterLayout {
  sources: string[];
  mixes: string[];
  processors: string[];
  /** Cables and points of the computer, as text (`app/ID/PORT`), with a value for each channel. */
  buses: { point: string; channels: number }[];
}

/** One frame of all meters, as it came: see the topic “levels” of the server. */
export interface MeterFrame {
  frame: number;
  load: number;
  lateBlocks: number;
  hushed: boolean;
  recording: boolean;
  recordedSeconds: number;
  /** Something is on air. */
  onAir: boolean;
  /** Something that should be on air is not. */
  notOnAir: boolean;
  onAirSeconds: number;
  values: Float32Array;
}

const sourceValues = Object.keys(SourceMeter).length;
const mixValues = Object.keys(MixMeter).length;
const processorValues = Object.keys(ProcessorMeter).length;
const headerBytes = analysisHeaderBytes + levelsHeaderBytes;

/** Reads a message of the topic “levels”. Null: not one. */
export function readMeterFrame(message: ArrayBuffer): MeterFrame | null {
  if (message.byteLength < headerBytes || message.byteLength % 4 !== 0) return null;
  const view = new DataView(message, analysisHeaderBytes);
  const flags = view.getUint32(16, true);
  return {
    frame: view.getFloat64(0, true),
    load: view.getFloat32(8, true),
    lateBlocks: view.getUint32(12, true),
    hushed: (flags & 1) !== 0,
    recording: (flags & 2) !== 0,
    onAir: (flags & 4) !== 0,
    notOnAir: (flags & 8) !== 0,
    onAirSeconds: view.getUint32(20, true),
    recordedSeconds: view.getFloat64(24, true),
    values: new Float32Array(message, headerBytes),
  };
}

/** Finds values by what they belong to. −∞ where a frame or its layout does not have them. */
export class MeterReading {
  #frame: MeterFrame | null = null;
  readonly #sources = new Map<string, number>();
  readonly #mixes = new Map<string, number>();
  readonly #processors = new Map<string, number>();
  readonly #buses = new Map<string, { at: number; channels: number }>();
  #busValues = 0;
  readonly #references = new Map<string, number>();

  setLayout(layout: MeterLayout) {
    this.#frame = null;
    this.#sources.clear();
    this.#mixes.clear();
    this.#processors.clear();
    this.#buses.clear();
    layout.sources.forEach((id, i) => {
      this.#sources.set(id, i);
    });
    layout.mixes.forEach((id, i) => {
      this.#mixes.set(id, i);
    });
    layout.processors.forEach((id, i) => {
      this.#processors.set(id, i);
    });
    this.#busValues = 0;
    for (const { point, channels } of layout.buses) {
      this.#buses.set(point, { at: this.#busValues, channels });
      this.#busValues += channels;
    }
  }

  /** A frame of the layout that came before it, as they come on one socket; one of another is none. */
  setFrame(frame: MeterFrame | null) {
    const length = this.#busesAt() + this.#busValues;
    this.#frame = frame?.values.length === length ? frame : null;
  }

  /** Where the values of cables and of the computer begin. */
  #busesAt(): number {
    const [s, m, p] = [this.#sources.size, this.#mixes.size, this.#processors.size];
    return s * sourceValues + m * (mixValues + s) + p * processorValues;
  }

  /** The highest sample at a cable or a point of the computer since the last frame, dBFS: of one channel, or of all. */
  bus(point: string, channel?: number): number {
    const bus = this.#buses.get(point);
    if (!bus || (channel ?? 0) >= bus.channels) return Number.NEGATIVE_INFINITY;
    const value = (c: number) => this.#at(bus.at + c, (i) => this.#busesAt() + i);
    if (channel !== undefined) return value(channel);
    return Array.from({ length: bus.channels }, (_, c) => value(c)).reduce((a, b) => Math.max(a, b));
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
    const now = this.source(id, SourceMeter.reference);
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
