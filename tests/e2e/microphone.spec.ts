import type { Page } from "@playwright/test";
import { browserArgs, microphoneArgs, voiceFile } from "./support/browser.ts";
import {
  addMicrophone,
  expect,
  marker,
  microphoneState,
  openDesk,
  pick,
  sourceItem,
  stored,
  test,
} from "./support/fixtures.ts";
import { decode, locate, newestTake, rms } from "./support/sound.ts";

test.use({
  launchOptions: { executablePath: "/usr/bin/chromium", args: [...browserArgs, ...microphoneArgs()] },
  permissions: ["microphone"],
});

interface Unpluggable {
  unplug: () => void;
  plugIn: () => void;
}

/** Before the page's own scripts: its devices can be pulled out and plugged in again. */
function unpluggable() {
  const media = navigator.mediaDevices;
  const list = media.enumerateDevices.bind(media);
  const open = media.getUserMedia.bind(media);
  const tracks: MediaStreamTrack[] = [];
  let gone = false;
  media.enumerateDevices = async () => (gone ? [] : list());
  media.getUserMedia = async (wish) => {
    if (gone) throw new DOMException("", "NotFoundError");
    const stream = await open(wish);
    tracks.push(...stream.getAudioTracks());
    return stream;
  };
  const change = (is: boolean) => {
    gone = is;
    if (is) {
      for (const track of tracks.splice(0)) {
        track.stop();
        track.dispatchEvent(new Event("ended"));
      }
    }
    media.dispatchEvent(new Event("devicechange"));
  };
  Object.assign(window, { unplug: () => change(true), plugIn: () => change(false) } satisfies Unpluggable);
}

async function devices(page: Page, action: keyof Unpluggable) {
  await page.evaluate((name) => (window as unknown as Unpluggable)[name](), action);
}

/** A microphone's sound arrives and has settled: the engine is asked, not the clock on the wall. */
async function settled(page: Page, server: { get: (path: string) => Promise<unknown> }, seconds: number) {
  const arrived = async () =>
    ((await server.get("/api/microphones")) as { arrivedFrames: number }[])[0]?.arrivedFrames ?? 0;
  const from = await arrived();
  await expect.poll(arrived, { timeout: 30_000 }).toBeGreaterThan(from + seconds * 48_000);
  expect(await page.evaluate(() => document.visibilityState)).toBe("visible");
}

test("a real captured voice arrives in a mix and in the recorded file: once, and as loud as it is", async ({
  page,
  live,
}) => {
  await openDesk(page, live);
  await addMicrophone(page, "A voice");
  await expect.poll(() => microphoneState(live)).toBe("Live");
  const show = (await live.get("/api/shows/live")) as { sources: { id: string; name: string }[] };
  for (const { id, name } of show.sources) {
    await live.send("PATCH", `/api/shows/LIVE/mixes/viewers/sends/${id}`, { heard: name === "A voice" });
  }
  await settled(page, live, 3);
  await live.send("POST", "/api/takes", {});
  await settled(page, live, 12);
  await live.send("POST", "/api/takes/current/stop", {});
  const take = await newestTake(live);
  const original = decode(voiceFile()).left;

  // The loudest parts of the take: those that a gap or the file's end has cut are less alike.
  for (const [track, expected] of [
    ["A voice", 0],
    ["Viewers", 20 * Math.log10(Math.SQRT1_2)],
  ] as const) {
    const recorded = take(track).left;
    const frames = 16_384;
    const parts = Array.from({ length: Math.floor(recorded.length / frames) }, (_, n) =>
      recorded.slice(n * frames, (n + 1) * frames),
    );
    const found = parts
      .filter((part) => rms(part) > -60)
      .sort((a, b) => rms(b) - rms(a))
      .slice(0, 8)
      .map((part) => ({ part, ...locate(part, original) }))
      .sort((a, b) => b.likeness - a.likeness)[0];
    if (!found) throw new Error(`Nothing was recorded of ${track}.`);
    // All but a fiftieth of its energy is the original, arriving once: whatever else arrives is 17 dB below it or less.
    expect(found.likeness, track).toBeGreaterThan(0.99);
    const level = rms(found.part) - rms(original.slice(found.lag, found.lag + frames));
    expect(Math.abs(level - expected), track).toBeLessThan(0.1);
  }
});

test("it waits in the dock for My ears, keeps its sends, and rejoins by itself after a reload", async ({
  page,
  live,
}) => {
  await openDesk(page, live);
  await addMicrophone(page, "A voice");
  await expect(page.getByRole("button", { name: "Let My ears hear A voice" })).toBeVisible();
  await expect.poll(() => microphoneState(live)).toBe("Live");
  await marker(page, "A voice", "Viewers").press("ArrowLeft");
  const show = (await live.get("/api/shows/live")) as { sources: { id: string }[] };
  await stored(live, "viewers", show.sources.at(-1)?.id ?? "", { gain: -0.5 });
  const before = ((await live.get("/api/microphones")) as { arrivedFrames: number }[])[0]?.arrivedFrames ?? 0;
  await page.reload();
  await expect(marker(page, "A voice", "Viewers")).toHaveAttribute("aria-valuenow", "-0.5");
  await expect
    .poll(async () => ((await live.get("/api/microphones")) as { arrivedFrames: number }[])[0]?.arrivedFrames)
    .toBeGreaterThan(before + 24_000);
  await expect.poll(() => microphoneState(live)).toBe("Live");
});

test("pulled out and plugged in again: words, silence in its place, and it goes on by itself", async ({
  page,
  live,
}) => {
  await page.addInitScript(unpluggable);
  await openDesk(page, live);
  await addMicrophone(page, "A voice");
  await expect.poll(() => microphoneState(live)).toBe("Live");
  await devices(page, "unplug");
  await expect(sourceItem(page, "A voice").getByText("unplugged")).toBeVisible();
  await expect.poll(() => microphoneState(live)).toBe("Unplugged");
  await sourceItem(page, "A voice").getByRole("button", { name: "A voice", exact: true }).click();
  await expect(page.getByText("Its place is silent; it goes on by itself once it is back.")).toBeVisible();
  await devices(page, "plugIn");
  await expect.poll(() => microphoneState(live)).toBe("Live");
  await expect(sourceItem(page, "A voice").getByText("unplugged")).toBeHidden();
});

test("with no device at all the picker says so, and finds one once it is plugged in", async ({ page, stepped }) => {
  await page.addInitScript(unpluggable);
  await openDesk(page, stepped);
  await devices(page, "unplug");
  await page.getByRole("button", { name: "Add a microphone" }).click();
  await expect(page.getByRole("alert")).toContainText("This browser sees no microphone.");
  await devices(page, "plugIn");
  await expect(page.getByRole("radio").first()).toBeVisible();
});

test("a second window of the browser is told, and takes over on purpose only", async ({ page, context, live }) => {
  await openDesk(page, live);
  await addMicrophone(page, "A voice");
  await expect.poll(() => microphoneState(live)).toBe("Live");
  const second = await context.newPage();
  await openDesk(second, live);
  await sourceItem(second, "A voice").getByRole("button", { name: "A voice", exact: true }).click();
  await expect(second.getByText("Another window of this browser gives this microphone.")).toBeVisible();
  await second.getByRole("button", { name: "Give it from here" }).click();
  await expect(second.getByText("Another window of this browser gives this microphone.")).toBeHidden();
  await page.bringToFront();
  await sourceItem(page, "A voice").getByRole("button", { name: "A voice", exact: true }).click();
  await expect(page.getByText("Another window took this microphone over.")).toBeVisible();
  await second.close();
  await expect.poll(() => microphoneState(live)).toBe("WindowClosed");
  await page.getByRole("button", { name: "Take it back" }).click();
  await expect.poll(() => microphoneState(live)).toBe("Live");
});

test("every candidate shows its own level, and two people on one input are two sources and one step of undo", async ({
  page,
  live,
}) => {
  await openDesk(page, live);
  await page.getByRole("button", { name: "Add a microphone" }).click();
  await expect(page.getByRole("radio")).toHaveCount(3);
  const moving = () =>
    page
      .getByRole("dialog")
      .locator("label")
      .first()
      .evaluate((label) =>
        [...label.querySelectorAll<HTMLElement>("div > div > div")].some(
          (bar) => bar.getBoundingClientRect().width > 5,
        ),
      );
  await expect.poll(moving).toBe(true);
  await expect(page.getByText("Echo removal, noise reduction and level control are off.")).toBeVisible();
  await pick(page.getByRole("button", { name: /^Channels: / }), "Two people, on channels 1 and 2");
  await page.getByRole("textbox", { name: "Name, ch. 1" }).fill("Ann");
  await page.getByRole("textbox", { name: "Name, ch. 2" }).fill("Bo");
  await page.getByRole("button", { name: "Add them" }).click();
  await expect(marker(page, "Ann", "Viewers")).toBeVisible();
  await expect(marker(page, "Bo", "Viewers")).toBeVisible();
  await page.keyboard.press("Control+z");
  await expect(marker(page, "Ann", "Viewers")).toHaveCount(0);
  await expect(marker(page, "Bo", "Viewers")).toHaveCount(0);
  await page.keyboard.press("Control+Shift+z");
  await expect(marker(page, "Bo", "Viewers")).toBeVisible();
  await expect.poll(() => microphoneState(live)).toBe("Live");
});

test("what is listened to plays on the output that is chosen, and again after a reload", async ({ page, live }) => {
  await openDesk(page, live);
  await page.getByRole("button", { name: "Listen to Viewers" }).click();
  const ears = page.getByRole("button", { name: /You hear Viewers/ });
  await ears.click();
  await expect(page.getByRole("menuitem", { name: "Where the system says , chosen" })).toBeVisible();
  await page.getByRole("menuitem", { name: "Fake Audio Output 2" }).click();
  await ears.click();
  await expect(page.getByRole("menuitem", { name: "Fake Audio Output 2 , chosen" })).toBeVisible();
  await page.keyboard.press("Escape");
  await page.reload();
  await page.getByRole("button", { name: "Listen to Viewers" }).click();
  await expect
    .poll(async () => {
      await ears.click();
      const chosen = await page.getByRole("menuitem", { name: "Fake Audio Output 2 , chosen" }).isVisible();
      await page.keyboard.press("Escape");
      return chosen;
    })
    .toBe(true);
});

test("the delay of the window is measured by a probe that no mix holds", async ({ page, live }) => {
  await openDesk(page, live);
  await page.getByRole("button", { name: "Listen to Viewers" }).click();
  await page.getByRole("button", { name: /You hear Viewers/ }).click();
  await page.getByRole("menuitem", { name: "Measure the delay" }).click();
  await page.getByRole("button", { name: "Measure", exact: true }).click();
  const answer = page.getByRole("dialog").getByText("Round trip").or(page.getByRole("dialog").getByRole("alert"));
  await expect(answer).toBeVisible({ timeout: 90_000 });
  // A machine that had something else to do just then is told as such, and is asked once more.
  if (/not too busy/.test((await answer.textContent()) ?? "")) {
    await page
      .getByRole("button", { name: /^Measure/ })
      .last()
      .click();
    await expect(page.getByRole("dialog").getByRole("alert")).toBeHidden();
  }
  await expect(answer).toHaveText("Round trip", { timeout: 90_000 });
  const numbers = (await page.getByRole("dialog").locator("dd").allInnerTexts()).map((t) =>
    Number.parseFloat(t.replace("−", "-")),
  );
  expect(numbers[3]).toBeGreaterThan(10);
  const parts = numbers.slice(0, 3) as [number, number, number];
  // A part that was broken off at the end of the measurement is shown as a dash.
  if (parts.every(Number.isFinite)) expect(parts[0] + parts[1] + parts[2]).toBeCloseTo(numbers[3] ?? 0, 0);
  const show = (await live.get("/api/shows/live")) as { sources: unknown[] };
  expect(show.sources).toHaveLength(6);
});
