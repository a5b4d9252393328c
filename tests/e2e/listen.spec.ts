import type { Page } from "@playwright/test";
import { expect, openDesk, test } from "./support/fixtures.ts";
import { newestTake } from "./support/sound.ts";

// Before the page's own scripts: whatever is joined to an AudioContext's destination is captured too, sample for sample.
function capture() {
  const chunks: Float32Array[] = [];
  const connect = AudioNode.prototype.connect as (...a: unknown[]) => unknown;
  (window as unknown as { captured: Float32Array[] }).captured = chunks;
  AudioNode.prototype.connect = function (this: AudioNode, ...to: unknown[]) {
    if (to[0] instanceof AudioDestinationNode) {
      const tap = this.context instanceof AudioContext ? this.context.createScriptProcessor(4096, 2, 1) : null;
      if (tap) {
        tap.onaudioprocess = (e) => chunks.push(e.inputBuffer.getChannelData(0).slice());
        connect.call(this, tap);
        connect.call(tap, to[0]);
      }
    }
    return connect.apply(this, to);
  } as typeof AudioNode.prototype.connect;
}

async function captured(page: Page): Promise<Float64Array> {
  const chunks = await page.evaluate(() =>
    (window as unknown as { captured: Float32Array[] }).captured.map((c) => Array.from(c)),
  );
  return Float64Array.from(chunks.flat());
}

async function heardFor(page: Page, seconds: number) {
  const chunks = () => page.evaluate(() => (window as unknown as { captured: Float32Array[] }).captured.length);
  const start = await chunks();
  await expect.poll(chunks, { timeout: 30_000 }).toBeGreaterThan(start + Math.ceil((seconds * 48000) / 4096));
}

/** Rounds as the recorder does: halves to the even neighbour. */
function toEven(x: number): number {
  const down = Math.floor(x);
  if (x - down !== 0.5) return Math.round(x);
  return down % 2 === 0 ? down : down + 1;
}

/** How much of what was heard is found in a track, to the bit of 24: the length of its longest run, frames. */
function longestRun(heard: Float64Array, track: Float64Array): number {
  const steps = heard.map((x) => toEven(x * 2 ** 23));
  const places = new Map<string, number>();
  const key = (samples: Float64Array, at: number) => samples.slice(at, at + 6).join();
  for (let n = 0; n + 6 < track.length; n++) if (track[n] !== 0) places.set(key(track, n), n);
  let longest = 0;
  for (let n = 0; n + 6 < steps.length; ) {
    const at = steps[n] === 0 ? undefined : places.get(key(steps, n));
    if (at === undefined) {
      n++;
      continue;
    }
    let run = 0;
    while (n + run < steps.length && steps[n + run] === track[at + run]) run++;
    longest = Math.max(longest, run);
    n += run;
  }
  return longest;
}

test("what listen plays in the browser is that mix, and after a press on another lane the other", async ({
  page,
  live,
}) => {
  await page.addInitScript(capture);
  await openDesk(page, live);
  await live.send("POST", "/api/takes", {});
  await page.getByRole("button", { name: "Listen to Viewers" }).click();
  await expect(page.getByRole("button", { name: "Listen to Viewers" })).toHaveAttribute("aria-pressed", "true");
  await expect(page.getByText("You hear Viewers")).toBeVisible();
  await heardFor(page, 2);
  await page.keyboard.press("1");
  await expect(page.getByText("You hear My ears")).toBeVisible();
  await heardFor(page, 2);
  await page.getByText("You hear My ears").click();
  await heardFor(page, 0.5);
  await live.send("POST", "/api/takes/current/stop", {});
  const tracks = await newestTake(live);
  const heard = await captured(page);
  // At least half a second without a single sample that is not the mix's, of each.
  expect(longestRun(heard, tracks("Viewers").left)).toBeGreaterThan(24_000);
  expect(longestRun(heard, tracks("My ears").left)).toBeGreaterThan(24_000);
  expect(longestRun(heard, tracks("Guest hears").left)).toBeLessThan(1000);
  expect(heard.slice(-4800).every((x) => Math.abs(x) < 1e-6)).toBe(true);
});

test("meters keep coming to the page, hardly any of the engine's 31 a second left out", async ({ page, live }) => {
  await openDesk(page, live);
  const frames = await page.evaluate(
    () =>
      new Promise<{ frames: number; seconds: number }>((done) => {
        const socket = new WebSocket(`ws://${location.host}/api/meters`);
        socket.binaryType = "arraybuffer";
        let first = 0;
        let frames = 0;
        socket.onmessage = ({ data }) => {
          if (typeof data === "string") return;
          // The engine's own time of each frame, so that a busy machine does not matter.
          const at = new DataView(data).getFloat64(0, true);
          if (first === 0) first = at;
          else frames++;
          if (frames === 60) done({ frames, seconds: (at - first) / 48000 });
        };
      }),
  );
  expect(frames.frames / frames.seconds).toBeGreaterThan(28);
});
