import { readdirSync, readFileSync } from "node:fs";
import { join } from "node:path";
import type { Locator, Page } from "@playwright/test";
import { expect, openDesk, pick, test } from "./support/fixtures.ts";
import { loudest, openGear, sentence } from "./support/gear.ts";
import type { Server } from "./support/server.ts";

// What goes wrong in a real rig, beside what findings, promises, gear and paths show of it: brought about, told, heard, and ended, through the interface.

test.use({ demo: true });

/** The loudest at a point over some seconds: speech has pauses. */
async function heard(page: Page, server: Server, point: string): Promise<number> {
  await server.step(1);
  const [most = []] = await loudest(page, server, [point], 5);
  return Math.max(Number.NEGATIVE_INFINITY, ...most);
}

/** Leaves only one source in My ears. */
async function hearAlone(server: Server, source: string) {
  const { mixes } = (await server.get("/api/shows/live")) as { mixes: { id: string; sends: { source: string }[] }[] };
  for (const send of mixes.find((m) => m.id === "my-ears")?.sends ?? []) {
    const change = send.source === source ? { heard: true, muted: false, gain: 0 } : { muted: true };
    await server.send("PATCH", `/api/shows/LIVE/mixes/my-ears/sends/${send.source}`, change);
  }
}

/** Opens the list of what is found, whatever it counts. */
async function openFindings(page: Page) {
  await page.getByRole("button", { name: /^(Nothing wrong found|\d+ findings?)$/ }).click();
  return page.getByRole("dialog", { name: "What is found" });
}

/** Ends what is found by one of its fixes, by keys alone, and goes back to the screen. */
async function end(page: Page, dialog: Locator, words: RegExp, fix: string) {
  await expect(dialog.getByText(words).first()).toBeVisible();
  for (const name of [fix, "Do it"]) {
    await dialog.getByRole("button", { name }).first().focus();
    await page.keyboard.press("Enter");
  }
  await expect(dialog.getByText(words)).toHaveCount(0);
  await page.keyboard.press("Escape");
}

test("a sound that comes by two ways is told with the time between them, is heard by either, and by one after the fix", async ({
  page,
  stepped,
}) => {
  await openGear(page, stepped);
  await hearAlone(stepped, "record-shelf");
  await pick(sentence(page, "Record shelf").getByRole("button", { name: /only to the desk/ }), /still where it plays/);
  const words = /Record shelf is heard twice at Headset, \d.* ms apart/;
  const dialog = await openFindings(page);
  await expect(dialog.getByText(words)).toBeVisible();
  // The straight way alone: the desk's copy is muted, and it still sounds.
  await stepped.send("PATCH", "/api/shows/LIVE/mixes/my-ears/sends/record-shelf", { muted: true });
  expect(await heard(page, stepped, "device/headset/out")).toBeGreaterThan(-60);
  await stepped.send("PATCH", "/api/shows/LIVE/mixes/my-ears/sends/record-shelf", { muted: false });

  await end(page, dialog, words, "Hear Record shelf through the desk alone");
  expect(await heard(page, stepped, "device/headset/out")).toBeGreaterThan(-60);
  await stepped.send("PATCH", "/api/shows/LIVE/mixes/my-ears/sends/record-shelf", { muted: true });
  expect(await heard(page, stepped, "device/headset/out")).toBeLessThan(-100);
});

test("one's own voice that the interface plays too is told as raw beside processed, is heard by both ways, and once by one after the fix", async ({
  page,
  stepped,
}) => {
  await openGear(page, stepped);
  await hearAlone(stepped, "host-mic");
  await pick(page.getByRole("button", { name: "Let My ears go somewhere else too" }), "Desk interface");
  await pick(page.getByRole("button", { name: "Direct monitoring of Desk interface" }), /^It plays its inputs/);
  const words = /Host mic .*heard twice at Desk interface.* the other is raw: .*by direct monitoring/;
  await expect(sentence(page, "Desk interface").getByText(words).first()).toBeVisible();
  // The raw way alone: the desk's copy is muted, and it still sounds.
  await stepped.send("PATCH", "/api/shows/LIVE/mixes/my-ears/sends/host-mic", { muted: true });
  expect(await heard(page, stepped, "device/desk-interface/out")).toBeGreaterThan(-60);
  await stepped.send("PATCH", "/api/shows/LIVE/mixes/my-ears/sends/host-mic", { muted: false });

  await end(page, await openFindings(page), words, "Turn Desk interface’s direct monitoring off");
  expect(await heard(page, stepped, "device/desk-interface/out")).toBeGreaterThan(-60);
  await stepped.send("PATCH", "/api/shows/LIVE/mixes/my-ears/sends/host-mic", { muted: true });
  expect(await heard(page, stepped, "device/desk-interface/out")).toBeLessThan(-100);
});

test("one's own voice that comes late to one's own ears is told with its time, and is gone from there after the fix", async ({
  page,
  stepped,
}) => {
  await openDesk(page, stepped);
  await hearAlone(stepped, "host-mic");
  await stepped.send("PATCH", "/api/shows/LIVE/sources/host-mic", { syncDelay: 25 });
  expect(await heard(page, stepped, "device/headset/out")).toBeGreaterThan(-60);
  const words = /Host mic comes to My ears \d+ ms late: who speaks and hears it there will stumble over it/;
  await end(page, await openFindings(page), words, "Leave Host mic out of My ears");
  expect(await heard(page, stepped, "device/headset/out")).toBeLessThan(-100);
});

test("a recorder with the same on two tracks is told, has the same there, and after the fix not; that is taken back in one press", async ({
  page,
  stepped,
}) => {
  await openGear(page, stepped);
  await page.getByRole("button", { name: "Start Reel recorder" }).click();
  const track = (n: number) => page.getByRole("button", { name: `Reel recorder, track ${n}, takes` });
  await pick(track(1), /Air line/);
  await pick(track(2), /Air line/);
  const words = /Reel recorder has the same on track 1 and track 2/;
  await expect(sentence(page, "Reel recorder").getByText(words)).toBeVisible();
  await stepped.step(1);
  const points = ["app/reel-recorder/track-1", "app/reel-recorder/track-2"];
  const [one = [], other = []] = await loudest(page, stepped, points, 3);
  expect(Math.max(...one)).toBeGreaterThan(-60);
  expect(other).toEqual(one);

  await sentence(page, "Reel recorder").getByRole("button", { name: "What ends it" }).click();
  const dialog = page.getByRole("dialog", { name: "What is found" });
  // Quick hands: closed before the answer is there.
  await dialog.getByRole("button", { name: "Let track 2 of Reel recorder hear nothing" }).click();
  await dialog.getByRole("button", { name: "Do it" }).focus();
  await page.keyboard.press("Enter");
  await page.keyboard.press("Escape");
  // The way back is at hand all the same.
  const news = page.getByRole("region", { name: /Notifications/ });
  await expect(news.getByText(/^Reel recorder, track 2: nothing/)).toBeVisible();
  await expect(sentence(page, "Reel recorder").getByText(words)).toHaveCount(0);
  await news.getByRole("button", { name: "Take that back" }).click();
  await expect(sentence(page, "Reel recorder").getByText(words)).toBeVisible();

  await sentence(page, "Reel recorder").getByRole("button", { name: "What ends it" }).click();
  await end(page, dialog, words, "Let track 2 of Reel recorder hear nothing");
  expect(await heard(page, stepped, "app/reel-recorder/track-2")).toBeLessThan(-100);
  expect(await heard(page, stepped, "app/reel-recorder/track-1")).toBeGreaterThan(-60);
});

test("what would be lost if a device went is told before, by keys alone, and its going is taken back from the computer's history", async ({
  page,
  stepped,
}) => {
  await openGear(page, stepped);
  const ask = page.getByRole("button", { name: "If it goes …: Headset", exact: true });
  await ask.focus();
  await page.keyboard.press("Enter");
  const loss = page.getByRole("region", { name: "If Headset goes" });
  await expect(loss.getByText(/Headset plays nothing any more\./)).toBeVisible();
  await expect(loss.getByText("The default playback stays Headset.")).toBeVisible();
  await page.keyboard.press("Enter");
  await expect(loss).toHaveCount(0);

  await page.getByRole("button", { name: "Unplug Headset" }).click();
  await expect(page.getByRole("button", { name: "Plug in Headset" })).toBeVisible();
  await expect(page.getByRole("button", { name: "Sound plays on: Headset" })).toHaveCount(0);
  await page.getByRole("button", { name: "What was changed of the computer" }).click();
  const history = page.getByRole("dialog", { name: "What was changed of the computer" });
  const back = history.getByRole("button", { name: /^Take it back: Headset/ }).first();
  // A slow answer and quick hands: once.
  let [posts, release] = [0, () => {}];
  const released = new Promise<void>((done) => {
    release = done;
  });
  await page.route("**/take-back", async (route) => {
    posts++;
    await released;
    await route.continue();
  });
  await back.focus();
  await page.keyboard.press("Enter");
  await page.keyboard.press("Enter");
  release();
  await expect(history.getByRole("listitem").first()).toContainText("Taken back: Headset");
  expect(posts).toBe(1);
  await page.keyboard.press("Escape");
  await expect(page.getByRole("button", { name: "Unplug Headset" })).toBeVisible();
  await expect(page.getByRole("button", { name: "Sound plays on: Headset" })).toBeVisible();
});

test("a take that a crash cuts off says what was away in it, and what still was at its end", async ({ own }) => {
  await own.send("POST", "/api/takes", { name: "Cut off" });
  await own.step(1);
  await own.send("PATCH", "/api/gear/devices/desk-interface", { isPresent: false });
  await own.step(2);
  await own.send("PATCH", "/api/gear/devices/desk-interface", { isPresent: true });
  await own.step(1);
  await own.send("PATCH", "/api/gear/apps/skerry-keeper", { isRunning: false });
  await own.step(3);
  const noted = () =>
    readFileSync(join(own.data, "takes", readdirSync(join(own.data, "takes"))[0] ?? "", "take.json"), "utf8");
  await expect.poll(() => noted().split(`"words"`).length - 1).toBeGreaterThan(3);
  await own.kill();
  await own.start();
  const [take] = (await own.get("/api/takes")) as {
    state: string;
    seconds: number;
    tracks: { point: string; gaps: { from: number; seconds: number; words: string }[] }[];
  }[];
  expect(take?.state).toBe("Interrupted");
  const gaps = (point: string) => take?.tracks.find((t) => t.point === point)?.gaps ?? [];
  expect(gaps("source/host-mic")).toHaveLength(1);
  expect(gaps("source/host-mic")[0]?.words).toBe("Desk interface is unplugged");
  expect(gaps("source/host-mic")[0]?.from).toBeCloseTo(1, 0);
  expect(gaps("source/host-mic")[0]?.seconds).toBeCloseTo(2, 0);
  expect(gaps("source/skerry-keeper")).toHaveLength(1);
  const [last] = gaps("source/skerry-keeper");
  expect(last?.from).toBeCloseTo(4, 0);
  expect((last?.from ?? 0) + (last?.seconds ?? 0)).toBeCloseTo(take?.seconds ?? 0, 1);
  expect(gaps("source/record-shelf")).toHaveLength(0);
});
