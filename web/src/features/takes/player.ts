/** How much of each track is fetched at a time, seconds. */
export const pieceSeconds = 2;

/** So far ahead of what is heard sound is fetched, seconds. */
const ahead = 4;

/** From a press to the first sound, once it is there, seconds: long enough that all tracks begin together. */
const lead = 0.05;

/** How fast a level goes over to another, seconds. */
const smooth = 0.015;

/** One track that is played. */
export interface PlayedTrack {
  id: string;
  channels: number;
}

/** The part of the Web Audio API that is used. */
export type PlayingContext = Pick<
  BaseAudioContext,
  "currentTime" | "sampleRate" | "destination" | "createGain" | "createBuffer" | "createBufferSource"
>;

/** One time of playing: since when on the output's clock, null: it has not begun; and from where. */
interface Run {
  stop: AbortController;
  begun: number | null;
  from: number;
}

/** Fetches frames of a track, interleaved; shorter at its end. */
export type FetchPiece = (track: string, from: number, frames: number, signal: AbortSignal) => Promise<Float32Array>;

/**
 * Plays the tracks of a take together, all on the one clock of a sound output, from any place. Levels are for listening only. Where sound is late in
 * coming, all tracks wait for it together.
 */
export class TakePlayer {
  readonly #gains = new Map<string, GainNode>();
  readonly #sounding = new Set<AudioBufferSourceNode>();
  #run: Run | null = null;
  #rests = 0;
  #kept: { from: number; to: number };

  constructor(
    readonly context: PlayingContext,
    readonly tracks: readonly PlayedTrack[],
    readonly seconds: number,
    readonly fetch: FetchPiece,
    /** It came to the end, or something went wrong. */
    readonly over: (error?: unknown) => void,
  ) {
    this.#kept = { from: 0, to: seconds };
    for (const track of tracks) {
      const gain = context.createGain();
      gain.connect(context.destination);
      this.#gains.set(track.id, gain);
    }
  }

  get playing(): boolean {
    return this.#run !== null;
  }

  /** Where it is, seconds of the take. */
  get position(): number {
    const run = this.#run;
    if (!run) return this.#rests;
    return run.begun === null
      ? run.from
      : Math.min(this.seconds, run.from + Math.max(0, this.context.currentTime - run.begun));
  }

  /** How loud a track is listened to, a factor; 0: not at all. */
  level(track: string, factor: number) {
    this.#gains.get(track)?.gain.setTargetAtTime(factor, this.context.currentTime, smooth / 3);
  }

  /** What of it is kept, seconds: it ends there where it began before, and begins anew there. What is left out can be heard by going to it. */
  keep(from: number, to: number) {
    this.#kept = { from, to };
  }

  /** Plays on from a place. */
  play(from = this.position) {
    this.pause();
    const start = from >= this.seconds ? this.#kept.from : Math.max(0, from);
    const run: Run = { stop: new AbortController(), begun: null, from: start };
    this.#run = run;
    void this.#feed(run).catch((error: unknown) => {
      if (this.#run !== run) return;
      this.pause();
      this.over(error);
    });
  }

  /** Stands still where it is. */
  pause() {
    this.#rests = this.position;
    this.#run?.stop.abort();
    this.#run = null;
    for (const source of this.#sounding) {
      source.onended = null;
      source.stop();
      source.disconnect();
    }
    this.#sounding.clear();
  }

  /** Goes to a place, and plays on there if it was playing. */
  seek(to: number) {
    const at = Math.min(this.seconds, Math.max(0, to));
    if (this.playing) this.play(at);
    else this.#rests = at;
  }

  async #feed(run: Run) {
    const { sampleRate } = this.context;
    const frames = Math.round(pieceSeconds * sampleRate);
    const first = Math.round(run.from * sampleRate);
    const last = Math.round((run.from < this.#kept.to ? this.#kept.to : this.seconds) * sampleRate);
    for (let from = first; from < last; from += frames) {
      const pieces = await Promise.all(
        this.tracks.map((t) => this.fetch(t.id, from, Math.min(frames, last - from), run.stop.signal)),
      );
      if (this.#run !== run) return;
      const now = this.context.currentTime;
      const due = () => (run.begun ?? 0) + (from - first) / sampleRate;
      if (run.begun === null) run.begun = now + lead;
      // Late: everything waits, and is that much later from here on.
      if (due() < now) run.begun += now - due() + lead;
      this.tracks.forEach((track, i) => {
        this.#schedule(track, pieces[i] ?? new Float32Array(), due());
      });
      await this.#until(run, due() - ahead);
    }
    await this.#until(run, (run.begun ?? 0) + (last - first) / sampleRate);
    if (this.#run !== run) return;
    this.pause();
    this.#rests = this.#kept.from;
    this.over();
  }

  #schedule({ id, channels }: PlayedTrack, interleaved: Float32Array, at: number) {
    const gain = this.#gains.get(id);
    const length = Math.floor(interleaved.length / channels);
    if (!gain || length === 0) return;
    const buffer = this.context.createBuffer(channels, length, this.context.sampleRate);
    for (let c = 0; c < channels; c++) {
      const plane = buffer.getChannelData(c);
      for (let n = 0; n < length; n++) plane[n] = interleaved[n * channels + c] ?? 0;
    }
    const source = this.context.createBufferSource();
    source.buffer = buffer;
    source.connect(gain);
    source.onended = () => this.#sounding.delete(source);
    source.start(at);
    this.#sounding.add(source);
  }

  /** Until the output's clock is there, or it is no longer this run. */
  async #until(run: Run, time: number) {
    while (this.#run === run && this.context.currentTime < time) {
      await new Promise((done) => setTimeout(done, 50));
    }
  }
}
