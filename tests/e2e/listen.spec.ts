import type { Page } from "@playwright/test";
import { expect, openDesk, test } from "./support/fixtures.ts";
import { coarse, hearOnly, locate, newestTake, rms } from "./support/sound.ts";

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

/** How much of what was heard is a track, up to its level: the likest of the parts that sound. */
function likest(heard: Float64Array, track: Float64Array): number {
  const frames = 4_096;
  const low = coarse(heard.map((x) => x * 2 ** 23));
  const parts = Array.from({ length: Math.floor(low.length / frames) }, (_, n) =>
    low.slice(n * frames, (n + 1) * frames),
  );
  const sounding = parts
    .filter((part) => rms(part) > -60)
    .sort((a, b) => rms(b) - rms(a))
    .slice(0, 24);
  const whole = coarse(track);
  return Math.max(...sounding.map((part) => locate(part, whole).likeness));
}

test("what listen plays in the browser is that mix, and after a press on another lane the other", async ({
  page,
  live,
}) => {
  await page.addInitScript(capture);
  await openDesk(page, live);
  // Each listener has a sound of his own, so that they cannot be mistaken for each other.
  await hearOnly(live, "viewers", "record-shelf");
  await hearOnly(live, "my-ears", "skerry-keeper");
  await hearOnly(live, "guest-hears", "sea-mic");
  await live.send("POST", "/api/takes", {});
  await page.getByRole("button", { name: "Listen to Viewers" }).click();
  await expect(page.getByRole("button", { name: "Listen to Viewers" })).toHaveAttribute("aria-pressed", "true");
  await expect(page.getByText("You hear Viewers")).toBeVisible();
  await heardFor(page, 3);
  const first = await captured(page);
  await page.keyboard.press("1");
  await expect(page.getByText("You hear My ears")).toBeVisible();
  await heardFor(page, 3);
  await page.keyboard.press("0");
  await expect(page.getByText("You hear My ears")).toBeHidden();
  await heardFor(page, 0.5);
  await live.send("POST", "/api/takes/current/stop", {});
  const tracks = await newestTake(live);
  const heard = await captured(page);
  const second = heard.slice(first.length);
  expect(likest(first, tracks("Viewers").left)).toBeGreaterThan(0.9);
  expect(likest(first, tracks("My ears").left)).toBeLessThan(0.7);
  expect(likest(second, tracks("My ears").left)).toBeGreaterThan(0.9);
  expect(likest(second, tracks("Guest hears").left)).toBeLessThan(0.7);
  expect(heard.slice(-4800).every((x) => Math.abs(x) < 1e-6)).toBe(true);
});

test("meters keep coming to the page, few of the engine's 31 a second left out", async ({ page, live }) => {
  await openDesk(page, live);
  const frames = await page.evaluate(
    () =>
      new Promise<{ frames: number; seconds: number }>((done) => {
        const socket = new WebSocket(`ws://${location.host}/api/analysis`);
        socket.onopen = () => socket.send(JSON.stringify({ open: 1, topic: "levels" }));
        socket.binaryType = "arraybuffer";
        let first = 0;
        let frames = 0;
        socket.onmessage = ({ data }) => {
          if (typeof data === "string") return;
          // The engine's own time of each frame, so that a busy machine does not matter.
          const at = new DataView(data).getFloat64(8, true);
          if (first === 0) first = at;
          else frames++;
          if (frames === 60) done({ frames, seconds: (at - first) / 48000 });
        };
      }),
  );
  // A burst in which the host takes the processor away costs a few of them.
  expect(frames.frames / frames.seconds).toBeGreaterThan(24);
});
