import { ALL_FORMATS, AudioBufferSink, BlobSource, CanvasSink, Input, type InputVideoTrack } from "mediabunny";

/** A recording with a picture, as far as it is looked at. Decoded by the browser; times as the file states them. */
export interface Recording {
  /** When each frame is shown, seconds. */
  frames: number[];
  /** The mean brightness of 16×9 cells of each frame, 0 … 255. */
  picture: Uint8Array;
  /** From second 0 on: 48 kHz, one channel. */
  sound: Int16Array;
  /** How long a frame is shown, seconds: the median. */
  interval: number;
}

/** One frame to look at. */
export interface Still {
  seconds: number;
  image: ImageBitmap;
}

const longest = 60;
const shortest = 3;
const mostFrames = 3_600;
const rate = 48_000;
const columns = 16;
const rows = 9;
// A cell is the mean of so many pixels each way.
const fine = 8;

/** Decodes the beginning of a recording. Throws words where that cannot be done, and an AbortError where it is stopped. */
export async function readRecording(
  file: File,
  told: (seconds: number) => void,
  stop: AbortSignal,
): Promise<Recording> {
  const input = new Input({ formats: ALL_FORMATS, source: new BlobSource(file) });
  try {
    const { video, audio } = await tracksOf(input, file.name);
    const frames: number[] = [];
    const cells: Uint8Array[] = [];
    const sink = new CanvasSink(video, { width: columns * fine, height: rows * fine, fit: "fill", poolSize: 2 });
    for await (const { canvas, timestamp } of sink.canvases(0, longest)) {
      stop.throwIfAborted();
      if (timestamp < 0 || timestamp <= (frames.at(-1) ?? -1) || frames.length === mostFrames) continue;
      frames.push(timestamp);
      cells.push(brightnessOf(canvas));
      told(timestamp);
    }
    if ((frames.at(-1) ?? 0) < shortest)
      throw new Error(`“${file.name}” has less than ${shortest} s of picture. Record ten seconds or more.`);
    const heard: { at: number; samples: Float32Array }[] = [];
    let own = rate;
    for await (const { buffer, timestamp } of new AudioBufferSink(audio).buffers(0, longest)) {
      stop.throwIfAborted();
      own = buffer.sampleRate;
      heard.push({ at: timestamp, samples: mono(buffer) });
    }
    const gaps = frames.slice(1).map((t, i) => t - (frames[i] ?? 0));
    const picture = new Uint8Array(frames.length * columns * rows);
    for (const [i, c] of cells.entries()) picture.set(c, i * columns * rows);
    return {
      frames,
      picture,
      sound: await at48(joined(heard, own, (frames.at(-1) ?? 0) + 1), own),
      interval: gaps.sort((a, b) => a - b)[gaps.length >> 1] ?? 0,
    };
  } finally {
    input.dispose();
  }
}

/** So many frames from a moment on, to mark one of them. */
export async function framesFrom(file: File, seconds: number, count: number): Promise<Still[]> {
  const input = new Input({ formats: ALL_FORMATS, source: new BlobSource(file) });
  try {
    const { video } = await tracksOf(input, file.name);
    const stills: Still[] = [];
    for await (const { canvas, timestamp } of new CanvasSink(video, { width: 240 }).canvases(Math.max(0, seconds))) {
      stills.push({ seconds: timestamp, image: await createImageBitmap(canvas) });
      if (stills.length === count) break;
    }
    return stills;
  } finally {
    input.dispose();
  }
}

async function tracksOf(input: Input, name: string) {
  const none = new Error(`“${name}” cannot be read as a video. Allowed: MP4, MOV, MKV or WebM with picture and sound.`);
  const video = await input.getPrimaryVideoTrack().catch(() => {
    throw none;
  });
  const audio = await input.getPrimaryAudioTrack();
  if (!video) throw new Error(`“${name}” has no picture. A recording with picture and sound is needed.`);
  if (!audio) throw new Error(`“${name}” has no sound. A recording with picture and sound is needed.`);
  await canDecode(video, "picture");
  await canDecode(audio, "sound");
  return { video, audio };

  async function canDecode(track: InputVideoTrack | typeof audio, what: string) {
    if (await track?.canDecode()) return;
    throw new Error(
      `This browser cannot decode the ${what} of “${name}” (${(await track?.getCodecParameterString()) ?? "unknown"}). Record it as H.264, VP9 or AV1 with AAC, Opus or PCM.`,
    );
  }
}

function brightnessOf(canvas: HTMLCanvasElement | OffscreenCanvas): Uint8Array {
  const context = canvas.getContext("2d") as CanvasRenderingContext2D | OffscreenCanvasRenderingContext2D | null;
  const pixels = context?.getImageData(0, 0, columns * fine, rows * fine).data;
  const sums = new Float64Array(columns * rows);
  for (let y = 0; pixels && y < rows * fine; y++) {
    for (let x = 0; x < columns * fine; x++) {
      const p = 4 * (y * columns * fine + x);
      const cell = ((y / fine) | 0) * columns + ((x / fine) | 0);
      sums[cell] = (sums[cell] ?? 0) + 0.3 * (pixels[p] ?? 0) + 0.6 * (pixels[p + 1] ?? 0) + 0.1 * (pixels[p + 2] ?? 0);
    }
  }
  return Uint8Array.from(sums, (s) => s / fine / fine);
}

function mono(buffer: AudioBuffer): Float32Array {
  const sum = new Float32Array(buffer.length);
  for (let c = 0; c < buffer.numberOfChannels; c++) {
    const of = buffer.getChannelData(c);
    for (let n = 0; n < sum.length; n++) sum[n] = (sum[n] ?? 0) + (of[n] ?? 0) / buffer.numberOfChannels;
  }
  return sum;
}

// Each piece where its time stamp says: what begins late begins late.
function joined(pieces: { at: number; samples: Float32Array }[], own: number, seconds: number): Float32Array {
  const whole = new Float32Array(Math.ceil(Math.min(longest, seconds) * own));
  for (const { at, samples } of pieces) {
    const from = Math.round(at * own);
    const part = samples.subarray(Math.max(0, -from), Math.max(0, whole.length - from));
    whole.set(part, Math.max(0, from));
  }
  return whole;
}

async function at48(samples: Float32Array, own: number): Promise<Int16Array> {
  const length = Math.floor((samples.length / own) * rate);
  let played = samples;
  if (own !== rate) {
    const context = new OfflineAudioContext(1, length, rate);
    const buffer = context.createBuffer(1, samples.length, own);
    buffer.copyToChannel(Float32Array.from(samples), 0);
    const source = context.createBufferSource();
    source.buffer = buffer;
    source.connect(context.destination);
    source.start();
    played = (await context.startRendering()).getChannelData(0);
  }
  return Int16Array.from(played.subarray(0, length), (x) =>
    Math.max(-32_768, Math.min(32_767, Math.round(x * 32_768))),
  );
}
