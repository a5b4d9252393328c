import { expect, openDesk, test } from "./support/fixtures.ts";
import type { Server } from "./support/server.ts";
import { noise, writeWav } from "./support/sound.ts";
import { writeVideo } from "./support/video.ts";

// In time with a picture: recordings made here and encoded by another program, decoded by the browser.

interface Signal {
  cycleSeconds: number;
  flashSeconds: number;
  times: number[];
  beep: number[];
}

const delayOf = (server: Server) => async () => {
  const show = (await server.get("/api/shows/live")) as { sources: { id: string; syncDelay: number }[] };
  return show.sources.find((s) => s.id === "sea-mic")?.syncDelay;
};

for (const { ending, rate, late } of [
  { ending: "mp4", rate: 30, late: 0.2 },
  { ending: "webm", rate: 25, late: 0.12 },
])
  test(`a recording (${ending}) says by how much its picture is late, and the sound waits as long after one press`, async ({
    page,
    stepped,
  }, info) => {
    const signal = (await stepped.get("/api/flash-signal")) as Signal;
    const cycle = signal.cycleSeconds;
    const wav = info.outputPath("sound.wav");
    const hiss = noise(3);
    writeWav(wav, cycle, (n) => {
      const began = signal.times.map((t) => Math.round(t * 48_000)).findLast((t) => t <= n) ?? 0;
      return (signal.beep[n - began] ?? 0) * 0.5 + 0.004 * hiss();
    });
    const video = info.outputPath(`recording.${ending}`);
    writeVideo(video, cycle, rate, wav, (seconds, x, y) => {
      const at = (seconds - late + cycle) % cycle;
      const lit = signal.times.some((t) => at >= t && at < t + signal.flashSeconds);
      return x > 0.7 && y > 0.6 && lit ? 230 : 60 + 40 * x;
    });

    await openDesk(page, stepped);
    await page.goto(`${stepped.url}/voice?at=source/sea-mic`);
    await page.getByRole("button", { name: "In time", exact: true }).click();
    const part = page.getByRole("region", { name: "Together with a picture" });
    await part.getByLabel("A recording with picture and sound").setInputFiles(video);
    const words = part.getByText(/^The picture comes \d+ ms \(±\d+ ms, \d+ flashes\) later than the sound\./);
    await expect(words).toBeVisible();
    const [, told, within] = /comes (\d+) ms \(±(\d+) ms/.exec((await words.textContent()) ?? "") ?? [];
    expect(Math.abs(Number(told) - 1000 * late)).toBeLessThanOrEqual(Number(within));
    // By keys, and a letter beside it does nothing.
    const set = part.getByRole("button", { name: /^Set the sync delay of Sea mic to \d+(\.\d)? ms$/ });
    await set.focus();
    await page.keyboard.press("h");
    await page.keyboard.press("Enter");
    await expect.poll(async () => Math.abs(((await delayOf(stepped)()) ?? 0) - Number(told))).toBeLessThan(1);
    await expect(words).toBeHidden();
    expect(((await stepped.get("/api/status")) as { hushed: boolean }).hushed).toBe(false);
    await page.keyboard.press("Escape");
    await page.keyboard.press("Control+z");
    await expect.poll(delayOf(stepped)).toBe(0);
  });

test("without flashes a clap is found in the sound, its frame marked by keys, and quick hands ask once", async ({
  page,
  stepped,
}, info) => {
  const wav = info.outputPath("sound.wav");
  writeWav(wav, 6, (n) => (n < 96_000 ? 0 : (n % 2 ? 0.5 : -0.5) * Math.exp(-(n - 96_000) / 500)));
  const video = info.outputPath("clap.mp4");
  // The hands meet 160 ms after it is heard: four frames.
  writeVideo(video, 6, 25, wav, (seconds, x) => (Math.abs(x - 0.5) < Math.abs(seconds - 2.16) / 3 + 0.02 ? 40 : 190));

  await openDesk(page, stepped);
  await page.goto(`${stepped.url}/voice?at=source/sea-mic`);
  await page.getByRole("button", { name: "In time", exact: true }).click();
  const part = page.getByRole("region", { name: "Together with a picture" });
  await part.getByLabel("A recording with picture and sound").setInputFiles(video);
  await expect(part.getByText(/^The beeps were not heard/)).toBeVisible();
  const frames = part.getByRole("listbox", { name: "The frames around the clap" });
  const chosen = frames.getByRole("option", { selected: true });
  await expect(chosen).toHaveAccessibleName(/^[01] ms/);
  await frames.focus();
  for (let i = 0; i < 4; i++) await page.keyboard.press("ArrowRight");
  await expect(chosen).toHaveAccessibleName(/^16[01] ms/);
  let asked = 0;
  await page.route("**/align/clap", async (route) => {
    asked++;
    await route.continue();
  });
  await part.getByRole("button", { name: "Here the hands meet" }).dblclick();
  await expect(part.getByText(/^The picture comes 16[01] ms \(±20 ms\) later than the sound\./)).toBeVisible();
  await expect(frames).toBeHidden();
  expect(asked).toBe(1);
  // Set, and nothing of it is told any more.
  await part.getByRole("button", { name: /^Set the sync delay of Sea mic to 16\d(\.\d)? ms$/ }).dblclick();
  await expect.poll(async () => Math.round((await delayOf(stepped)()) ?? 0)).toBeGreaterThan(159);
  await expect(part.getByText(/^The picture comes/)).toBeHidden();
});

test("what is no recording with picture and sound is told in words, and another can be chosen", async ({
  page,
  stepped,
}, info) => {
  const wav = info.outputPath("sound.wav");
  writeWav(wav, 4, () => 0);
  await openDesk(page, stepped);
  await page.goto(`${stepped.url}/voice?at=source/sea-mic`);
  await page.getByRole("button", { name: "In time", exact: true }).click();
  const part = page.getByRole("region", { name: "Together with a picture" });
  const chooser = part.getByLabel("A recording with picture and sound");
  await chooser.setInputFiles({ name: "letter.mp4", mimeType: "video/mp4", buffer: Buffer.from("Dear all") });
  await expect(part.getByRole("alert")).toContainText("“letter.mp4” cannot be read as a video.");
  await chooser.setInputFiles(wav);
  await expect(part.getByRole("alert")).toContainText("“sound.wav” has no picture.");
  const short = info.outputPath("short.mp4");
  writeVideo(short, 1, 25, wav, () => 90);
  await chooser.setInputFiles(short);
  await expect(part.getByRole("alert")).toContainText("has less than 3 s of picture");
});

test("the flashing window is started and stopped by keys, flashes with its beeps, and is dark when it is closed", async ({
  page,
  stepped,
}) => {
  await openDesk(page, stepped);
  await page.goto(`${stepped.url}/?open=flashes`);
  const dialog = page.getByRole("dialog", { name: "Flashes and beeps" });
  await dialog.getByRole("button", { name: "Start" }).focus();
  await page.keyboard.press("Enter");
  await expect(dialog.getByRole("img", { name: "It flashes and beeps" })).toBeVisible();
  // At every picture of the screen: a flash is shorter than what is asked for now and then.
  await page.waitForFunction(() => document.querySelector("[data-lit]"), null, { polling: "raf" });
  await page.waitForFunction(() => !document.querySelector("[data-lit]"), null, { polling: "raf" });
  await dialog.getByRole("button", { name: "Stop" }).focus();
  await page.keyboard.press("Enter");
  await expect(dialog.getByRole("img", { name: "It is dark" })).toBeVisible();
  await page.keyboard.press("Escape");
  await expect(dialog).toBeHidden();
});
