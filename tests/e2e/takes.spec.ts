import { readdirSync } from "node:fs";
import { expect, openDesk, pick, test } from "./support/fixtures.ts";
import type { Server } from "./support/server.ts";
import { decode, rms } from "./support/sound.ts";

/** Whatever the sounds are just at, the blend does not clip: it is judged too. */
const leaveRoom = (own: Server) => own.send("PATCH", "/api/shows/LIVE/mixes/viewers", { gain: -18 });

/** The planned track of that name. */
const line = (page: import("@playwright/test").Page, name: string) =>
  page.getByRole("list", { name: "Planned tracks" }).getByRole("listitem", { name, exact: true });

test("tracks are planned, changed and recorded with the keyboard alone, and the take is found to be what its names say", async ({
  page,
  own,
}) => {
  // What a change does is seen by the change: no look by the clock, every few seconds, helps.
  await page.addInitScript(() => {
    const every = window.setInterval;
    window.setInterval = ((handler: () => void, wait?: number) =>
      every(handler, (wait ?? 0) > 5000 ? 2 ** 30 : wait)) as typeof setInterval;
  });
  await openDesk(page, own);
  await leaveRoom(own);
  await page.getByRole("link", { name: "Takes" }).click();
  const plan = page.getByRole("region", { name: "The next take" });
  await expect(plan).toContainText("Nothing is planned: a take has every mix and every source.");

  // Quick hands and a slow answer: planned once; and a letter that is typed there does nothing.
  let [posts, release] = [0, () => {}];
  const released = new Promise<void>((done) => {
    release = done;
  });
  await page.route("**/tracks/proposed*", async (route) => {
    posts++;
    await released;
    await route.continue();
  });
  await plan.getByRole("button", { name: "Plan tracks" }).focus();
  for (const key of ["Enter", "Enter", "x"]) await page.keyboard.press(key);
  release();
  await expect(plan.getByRole("status")).toContainText(/^7 tracks: 6 sources apart, 1 blend; .* an hour at 24 bit/);
  await expect(plan.getByRole("status")).toContainText(/free: enough for/);
  expect(posts).toBe(1);

  // In mono, as FLAC, under another name; the pads' place is taken by what they are before their chain.
  await line(page, "Record shelf")
    .getByRole("button", { name: /^Channels of Record shelf: in stereo/ })
    .focus();
  await page.keyboard.press("Enter");
  await expect(page.getByRole("menuitem", { name: /^as it comes/ })).toBeFocused();
  await page.keyboard.press("ArrowDown");
  await page.keyboard.press("Enter");
  await expect(line(page, "Record shelf")).toContainText("in mono");
  await pick(line(page, "Record shelf").getByRole("button", { name: /^What Record shelf is written as/ }), "FLAC");
  await expect(line(page, "Record shelf")).toContainText("07 Record shelf.flac");
  const more = line(page, "Host mic").getByRole("button", { name: "More with the track Host mic" });
  await more.focus();
  await page.keyboard.press("Enter");
  await expect(page.getByRole("menuitem", { name: "Rename" })).toBeFocused();
  await page.keyboard.press("Enter");
  await expect(page.getByRole("textbox", { name: "Name of the track Host mic" })).toBeFocused();
  await page.keyboard.type("The host/himself");
  await page.keyboard.press("Enter");
  await expect(line(page, "The host/himself")).toContainText("02 The host-himself.wav");
  await pick(line(page, "Crew talk").getByRole("button", { name: /^Crew talk is recorded or not/ }), "is left out");
  await expect(plan.getByRole("status")).toContainText(/^6 tracks: 5 sources apart, 1 blend/);

  // Two that are alike are refused, with words, and nothing is lost.
  await line(page, "Sea mic").getByRole("button", { name: "More with the track Sea mic" }).focus();
  await page.keyboard.press("Enter");
  await expect(page.getByRole("menuitem", { name: "Rename" })).toBeFocused();
  await page.keyboard.press("Enter");
  await expect(page.getByRole("textbox", { name: "Name of the track Sea mic" })).toBeFocused();
  await page.keyboard.type("guest call");
  await page.keyboard.press("Enter");
  await expect(page.getByText("Another track is called “guest call” already.").first()).toBeVisible();
  await expect(line(page, "Sea mic")).toBeVisible();

  await page.getByRole("button", { name: "Record", exact: true }).first().press("Enter");
  await expect.poll(async () => ((await own.get("/api/takes")) as unknown[]).length).toBe(1);
  await own.step(5);
  await page.getByRole("button", { name: /^Stop/ }).press("Enter");
  const verdict = page.getByRole("status").filter({ hasText: "All 6 tracks are what their names say, " });
  await expect(verdict).toContainText("sample by sample what the engine gave");
  const [take] = (await own.get("/api/takes")) as { folder: string; name: string }[];
  const files = readdirSync(take?.folder ?? "");
  expect(files.sort()).toEqual([
    "01 Blend.wav",
    "02 The host-himself.wav",
    "03 Sea mic.wav",
    "04 Guest call.wav",
    "05 Skerry Keeper.wav",
    "06 Record shelf.flac",
    "outlines",
    "report.txt",
    "take.json",
    "take.prints",
  ]);

  // By a program that knows nothing of it.
  const shelf = decode(`${take?.folder}/06 Record shelf.flac`);
  expect(rms(shelf.left)).toBeGreaterThan(-60);
  await expect(page.getByRole("list", { name: `Tracks of ${take?.name}` }).getByRole("listitem")).toHaveCount(6);
});

test("a track whose source is wired wrong is caught by the verdict, which says whose sound it has", async ({
  page,
  own,
}) => {
  await openDesk(page, own);
  await leaveRoom(own);
  const show = (await own.get("/api/shows/live")) as { id: string; revision: number; sources: { input: object }[] };
  await own.send("POST", `/api/shows/${show.id}/sources/taken?revision=${show.revision}`, {
    name: "Co-host mic",
    kind: "Microphone",
    input: show.sources[0]?.input,
  });
  await page.getByRole("link", { name: "Takes" }).click();
  await page.getByRole("button", { name: "Plan tracks" }).click();
  await expect(line(page, "Co-host mic")).toBeVisible();
  await page.getByRole("button", { name: "Record", exact: true }).first().click();
  await expect.poll(async () => ((await own.get("/api/takes")) as unknown[]).length).toBe(1);
  await own.step(5);
  await page.getByRole("button", { name: /^Stop/ }).click();
  const verdict = page.getByRole("status").filter({ hasText: "are not what they should be" });
  await expect(verdict).toContainText(
    "2 of 8 tracks are not what they should be. Host mic: It has the same sound as Co-host mic.",
  );
  await expect(page.getByText("It has the same sound as Host mic.")).toBeVisible();

  // Planned no more, in one step; and planned again by undo.
  await pick(page.getByRole("button", { name: "Plan anew" }), "Nothing: record everything");
  await expect(page.getByText("Nothing is planned: a take has every mix and every source.")).toBeVisible();
  await page.getByRole("button", { name: /^Undo/ }).click();
  await expect(line(page, "Co-host mic")).toBeVisible();
});
