import { spawnSync } from "node:child_process";

/** What one frame shows: how bright each of its pixels is, 0 … 255. */
type Picture = (seconds: number, x: number, y: number) => number;

const width = 160;
const height = 90;

/** A recording with a picture of our own making and a sound file, by an independent encoder; the ending says in which format. */
export function writeVideo(path: string, seconds: number, rate: number, wav: string, picture: Picture) {
  const frames = Math.round(seconds * rate);
  const pixels = Buffer.alloc(frames * width * height);
  for (let k = 0; k < frames; k++)
    for (let y = 0; y < height; y++)
      for (let x = 0; x < width; x++) pixels[(k * height + y) * width + x] = picture(k / rate, x / width, y / height);
  const codecs = path.endsWith(".webm")
    ? ["-c:v", "libvpx", "-b:v", "1M", "-c:a", "libopus"]
    : ["-c:v", "libx264", "-preset", "veryfast", "-pix_fmt", "yuv420p", "-c:a", "aac", "-b:a", "160k"];
  const from = ["-f", "rawvideo", "-pix_fmt", "gray", "-s", `${width}x${height}`, "-r", String(rate), "-i", "pipe:0"];
  const made = spawnSync("ffmpeg", ["-v", "error", "-y", ...from, "-i", wav, ...codecs, path], { input: pixels });
  if (made.status !== 0) throw new Error(`ffmpeg: ${made.stderr}`);
}
