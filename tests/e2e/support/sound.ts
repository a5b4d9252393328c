import { execFileSync } from "node:child_process";
import { readFileSync, writeFileSync } from "node:fs";
import { basename, join } from "node:path";
import { expect, type Page } from "@playwright/test";
import { fft } from "./fft.ts";
import type { Server } from "./server.ts";

/** A recorded track, decoded by another program: left and right in steps of 2⁻²³. */
export interface Decoded {
  left: Float64Array;
  right: Float64Array;
}

/** Records through the interface for so many seconds, downloads every track, and decodes it with ffmpeg. */
export async function record(page: Page, server: Server, seconds: number): Promise<(track: string) => Decoded> {
  await page.getByRole("button", { name: "Record", exact: true }).click();
  // Nothing passes before the take has begun.
  const recording = async () => ((await server.get("/api/status")) as { recordingTake: string | null }).recordingTake;
  await expect.poll(recording).not.toBeNull();
  // The button says Stop once the engine says that it records, and it says so while it runs.
  await expect
    .poll(async () => {
      await server.step(0.032);
      return page.getByRole("button", { name: /^Stop/ }).isVisible();
    })
    .toBe(true);
  await server.step(seconds);
  await page.getByRole("button", { name: /^Stop/ }).click();
  await expect.poll(async () => ((await server.get("/api/takes")) as { state: string }[])[0]?.state).toBe("Done");
  await server.step(0.1);
  return newestTake(server);
}

/** Downloads every track of the newest take; each is decoded when it is asked for. */
export async function newestTake(server: Server): Promise<(track: string) => Decoded> {
  const takes = (await server.get("/api/takes")) as { id: string; tracks: { id: string; name: string }[] }[];
  const take = takes[0];
  if (!take) throw new Error("There is no take.");
  const files = new Map<string, string>();
  for (const track of take.tracks) {
    const response = await fetch(`${server.url}/api/takes/${take.id}/tracks/${track.id}/file`);
    expect(response.headers.get("content-type")).toBe("audio/wav");
    const path = join(server.data, `${track.id}.wav`);
    writeFileSync(path, new Uint8Array(await response.arrayBuffer()));
    files.set(track.name, path);
  }
  return (name) => {
    const path = files.get(name);
    if (!path) throw new Error(`The take has no track ${name}.`);
    return decode(path);
  };
}

/** Decodes any sound file to stereo at 48 kHz with ffmpeg; a mono file to two equal channels, as it is. */
export function decode(path: string): Decoded {
  const channels = Number(
    execFileSync("ffprobe", ["-v", "error", "-show_entries", "stream=channels", "-of", "csv=p=0", path]).toString(),
  );
  const bytes = execFileSync("ffmpeg", ["-v", "error", "-i", path, "-f", "f64le", "-"], { maxBuffer: 1 << 29 });
  const all = new Float64Array(bytes.buffer.slice(bytes.byteOffset, bytes.byteOffset + bytes.byteLength));
  const frames = all.length / channels;
  const pick = (c: number) => Float64Array.from({ length: frames }, (_, n) => (all[n * channels + c] ?? 0) * 2 ** 23);
  return { left: pick(0), right: pick(channels - 1) };
}

/** Writes a stereo WAV file of 24 bits, so that it can be compared sample for sample. */
export function writeWav(path: string, seconds: number, sample: (frame: number, channel: 0 | 1) => number) {
  const frames = Math.round(seconds * 48000);
  const data = Buffer.alloc(44 + frames * 6);
  data.write("RIFF", 0);
  data.writeUInt32LE(36 + frames * 6, 4);
  data.write("WAVEfmt ", 8);
  data.writeUInt32LE(16, 16);
  data.writeUInt16LE(1, 20);
  data.writeUInt16LE(2, 22);
  data.writeUInt32LE(48000, 24);
  data.writeUInt32LE(48000 * 6, 28);
  data.writeUInt16LE(6, 32);
  data.writeUInt16LE(24, 34);
  data.write("data", 36);
  data.writeUInt32LE(frames * 6, 40);
  for (let n = 0; n < frames; n++) {
    data.writeIntLE(Math.round(sample(n, 0) * 2 ** 23), 44 + n * 6, 3);
    data.writeIntLE(Math.round(sample(n, 1) * 2 ** 23), 47 + n * 6, 3);
  }
  writeFileSync(path, data);
}

/** RMS in dB of the largest step. */
export function rms(samples: Float64Array): number {
  let sum = 0;
  for (const x of samples) sum += x * x;
  return 10 * Math.log10(sum / samples.length) - 20 * Math.log10(2 ** 23);
}

/** Noise that is the same each time. */
export function noise(seed: number): () => number {
  let state = seed;
  return () => {
    state = (Math.imul(state, 1664525) + 1013904223) >>> 0;
    return state / 2 ** 31 - 1;
  };
}

/** Puts every source but one into the dock of a mix. */
export async function hearOnly(server: Server, mix: string, source: string) {
  const show = (await server.get("/api/shows/live")) as { sources: { id: string }[] };
  for (const { id } of show.sources) {
    await server.send("PATCH", `/api/shows/LIVE/mixes/${mix}/sends/${id}`, { heard: id === source });
  }
}

/** Adds a source that plays a steady tone, 1 kHz at −20 dBFS; returns its id. */
export async function addTone(server: Server): Promise<string> {
  const path = join(server.data, "steady.wav");
  writeWav(path, 1, (frame) => 0.1 * Math.sin((2 * Math.PI * 1000 * frame) / 48000));
  return addFile(server, path);
}

/** Adds a source that plays a file round and round; returns its id. */
export async function addFile(server: Server, path: string): Promise<string> {
  const form = new FormData();
  form.set("file", new Blob([readFileSync(path)]), basename(path));
  form.set("loop", "true");
  const show = (await server.sendForm("/api/shows/LIVE/sources", form)) as { sources: { id: string }[] };
  return show.sources.at(-1)?.id ?? "";
}

/** A quarter of the rate, by the mean of each four frames: enough to tell one sound from another, in a fraction of the time. */
export function coarse(x: Float64Array): Float64Array {
  return Float64Array.from({ length: Math.floor(x.length / 4) }, (_, n) => {
    let sum = 0;
    for (let k = 0; k < 4; k++) sum += x[4 * n + k] as number;
    return sum / 4;
  });
}

interface Spectrum {
  re: Float64Array;
  im: Float64Array;
}

const spectra = new WeakMap<Float64Array, Spectrum>();

function spectrum(x: Float64Array, n: number): Spectrum {
  const known = spectra.get(x);
  if (known?.re.length === n) return known;
  const made = { re: new Float64Array(n), im: new Float64Array(n) };
  made.re.set(x);
  fft(made.re, made.im, false);
  spectra.set(x, made);
  return made;
}

/** Cross-correlation by frames of delay. */
function correlate(part: Float64Array, whole: Float64Array): Float64Array {
  let n = 1;
  while (n < whole.length) n <<= 1;
  const a = spectrum(whole, n);
  const b = spectrum(part, n);
  const [re, im] = [new Float64Array(n), new Float64Array(n)];
  for (let k = 0; k < n; k++) {
    const ar = a.re[k] as number;
    const ai = a.im[k] as number;
    const br = b.re[k] as number;
    const bi = b.im[k] as number;
    re[k] = (ar * br + ai * bi) / n;
    im[k] = (ai * br - ar * bi) / n;
  }
  fft(re, im, true);
  return re.subarray(0, whole.length - part.length + 1);
}

/** Where `part` stands in `whole`, and how like it is: 1 where it is the same but for its level. */
export function locate(part: Float64Array, whole: Float64Array): { lag: number; likeness: number } {
  const found = correlate(part, whole);
  let lag = 0;
  for (let k = 0; k < found.length; k++) if ((found[k] as number) > (found[lag] as number)) lag = k;
  const energy = (x: Float64Array, from: number) => {
    let sum = 0;
    for (let i = 0; i < part.length; i++) sum += (x[from + i] as number) ** 2;
    return sum;
  };
  return { lag, likeness: (found[lag] as number) / Math.sqrt(energy(whole, lag) * energy(part, 0)) };
}
