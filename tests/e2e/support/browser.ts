import { execFileSync } from "node:child_process";
import { existsSync, renameSync } from "node:fs";
import { tmpdir } from "node:os";
import { join, resolve } from "node:path";

/** How Chromium is started for every test. */
export const browserArgs = [
  "--no-sandbox",
  "--disable-gpu",
  "--disable-quic",
  "--no-first-run",
  "--disable-background-networking",
  "--disable-component-update",
  "--disable-sync",
  "--autoplay-policy=no-user-gesture-required",
];

/** A voice of the project's own, as the browser's microphone hears it: mono, 48 kHz, 16 bit, over and over. */
export function voiceFile(): string {
  const path = join(process.env.KINETRA_TEST_HOME ?? tmpdir(), "voice.wav");
  if (!existsSync(path)) {
    const flac = resolve(import.meta.dirname, "../../../src/Kinetra.Gear/Voices/second.flac");
    const part = `${path}.${process.pid}.wav`;
    execFileSync("ffmpeg", ["-v", "error", "-y", "-i", flac, "-t", "20", "-ar", "48000", "-ac", "1", part]);
    renameSync(part, path);
  }
  return path;
}

/** Chromium's microphones play that file; `deny`: the person says no. */
export function microphoneArgs(answer: "allow" | "deny" = "allow"): string[] {
  return [
    `--use-fake-ui-for-media-stream${answer === "deny" ? "=deny" : ""}`,
    "--use-fake-device-for-media-stream",
    `--use-file-for-fake-audio-capture=${voiceFile()}`,
  ];
}
