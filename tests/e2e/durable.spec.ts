import { writeFileSync } from "node:fs";
import { join } from "node:path";
import { dragBy, expect, grab, marker, openDesk, stored, test } from "./support/fixtures.ts";
import { record, rms, writeWav } from "./support/sound.ts";

test("a reload keeps it all", async ({ page, own }) => {
  await openDesk(page, own);
  await dragBy(page, "Guest call", "My ears", 3);
  const value = await marker(page, "Guest call", "My ears").getAttribute("aria-valuenow");
  expect(value).toBe("5");
  await marker(page, "Sea mic", "My ears").press("d");
  await expect(page.getByRole("button", { name: "Let My ears hear Sea mic" })).toBeVisible();
  await marker(page, "Record shelf", "Viewers").press("m");
  await expect(marker(page, "Record shelf", "Viewers")).toHaveAttribute("aria-valuetext", "−13.0 dB, muted");
  await page.reload();
  await expect(marker(page, "Guest call", "My ears")).toHaveAttribute("aria-valuenow", "5");
  await expect(page.getByRole("button", { name: "Let My ears hear Sea mic" })).toBeVisible();
  await expect(marker(page, "Record shelf", "Viewers")).toHaveAttribute("aria-valuetext", "−13.0 dB, muted");
});

test("the page says that the server is away, and survives its restart with everything in place", async ({
  page,
  live,
}) => {
  await openDesk(page, live);
  // By key: in real time the sign still moves while its loudness is being found.
  await marker(page, "Guest call", "Viewers").press("PageDown");
  await expect(marker(page, "Guest call", "Viewers")).toHaveAttribute("aria-valuenow", "2");
  await stored(live, "viewers", "guest-call", { gain: 2 });
  await live.kill();
  await expect(page.getByText("What you see is what was last known")).toBeVisible();
  await live.start();
  await expect(page.getByText("What you see is what was last known")).toBeHidden();
  await expect(marker(page, "Guest call", "Viewers")).toHaveAttribute("aria-valuenow", "2");
  await expect(marker(page, "Guest call", "Viewers")).toHaveAttribute("data-known", "true");
  await marker(page, "Guest call", "Viewers").press("PageDown");
  await expect(marker(page, "Guest call", "Viewers")).toHaveAttribute("aria-valuenow", "-1");
});

test("another window sees a change, the dragging included", async ({ page, own, context }) => {
  await openDesk(page, own);
  const other = await context.newPage();
  await openDesk(other, own);
  await page.bringToFront();
  const { x, y } = await grab(page, "Guest call", "My ears");
  await page.mouse.move(x - 70, y, { steps: 5 });
  await expect(marker(page, "Guest call", "My ears")).not.toHaveAttribute("aria-valuenow", "2");
  const dragged = await marker(page, "Guest call", "My ears").getAttribute("aria-valuenow");
  await expect(marker(other, "Guest call", "My ears")).toHaveAttribute("aria-valuenow", dragged ?? "");
  await page.mouse.up();
  await expect(marker(other, "Guest call", "My ears")).toHaveAttribute("aria-valuenow", dragged ?? "");
});

test("hush by key silences every mix exactly, and brings every mix back", async ({ page, own }) => {
  await openDesk(page, own);
  await page.keyboard.press("h");
  await expect
    .poll(async () => {
      await own.step(0.1);
      return page.getByRole("button", { name: "Hushed" }).isVisible();
    })
    .toBe(true);

  // The page may know before the engine's next block does; its fade takes 11 ms.
  await own.step(0.1);
  const silent = await record(page, own, 1);
  for (const mix of ["My ears", "Viewers", "Guest hears"]) expect(silent(mix).left.every((x) => x === 0)).toBe(true);
  expect(rms(silent("Record shelf").left)).toBeGreaterThan(-60);
  await page.getByRole("button", { name: "Hushed" }).click();
  await expect
    .poll(async () => {
      await own.step(0.1);
      return page.getByRole("button", { name: "Hush", exact: true }).isVisible();
    })
    .toBe(true);
  const loud = await record(page, own, 1);
  for (const mix of ["My ears", "Viewers", "Guest hears"]) expect(rms(loud(mix).left)).toBeGreaterThan(-50);
});

test("a letter typed into an open menu or dialog hushes nobody and records nothing", async ({ page, own }) => {
  await openDesk(page, own);
  const status = async () =>
    (await (await fetch(`${own.url}/api/status`)).json()) as { hushed: boolean; recordingTake: string | null };
  const nothing = async () => {
    for (const key of ["h", "r", "1"]) await page.keyboard.press(key);
    // What a key does is asked of the server at once: after an answer to this window's own question, it would have come.
    await page.evaluate(() => fetch("/api/status"));
    await own.step(0.1);
    expect(await status()).toMatchObject({ hushed: false, recordingTake: null });
  };
  await page.setViewportSize({ width: 390, height: 844 });
  await page.getByRole("button", { name: "Undo and more" }).click();
  await expect(page.getByRole("menu")).toBeVisible();
  await nothing();
  await page.keyboard.press("Escape");
  await page.getByRole("button", { name: "The Lamp Room" }).click();
  await expect(page.getByRole("dialog")).toBeVisible();
  await page.getByRole("dialog").getByRole("button").first().focus();
  await nothing();
  await page.keyboard.press("Escape");
  await expect(page.getByRole("dialog")).toBeHidden();

  // With nothing open they work.
  await page.keyboard.press("h");
  await expect.poll(async () => (await status()).hushed).toBe(true);
});

test("everything about a send can be done with the keyboard alone", async ({ page, own }) => {
  await openDesk(page, own);
  const target = marker(page, "Sea mic", "Viewers");
  const lane = page.getByRole("region", { name: "What Viewers gets" });
  for (let presses = 0; presses < 30 && !(await lane.evaluate((e) => e.contains(document.activeElement))); presses++) {
    await page.keyboard.press("Tab");
  }
  for (let presses = 0; presses < 10 && !(await target.evaluate((e) => e === document.activeElement)); presses++) {
    await page.keyboard.press("ArrowDown");
  }
  await expect(target).toBeFocused();
  await page.keyboard.press("ArrowRight");
  await page.keyboard.press("Shift+ArrowRight");
  await expect(target).toHaveAttribute("aria-valuenow", "1.6");
  await page.keyboard.press("0");
  await expect(target).toHaveAttribute("aria-valuenow", "0");
  await page.keyboard.press("Home");
  await expect(target).toHaveAttribute("aria-valuetext", "off");
  await page.keyboard.press("PageUp");
  await expect(target).toHaveAttribute("aria-valuenow", "-57");
  await page.keyboard.press("Enter");
  const field = page.getByRole("textbox", { name: "Send" });
  await expect(field).toHaveValue("−57.0 dB");
  await field.fill("-4,5 dB");
  await field.press("Enter");
  await expect(target).toHaveAttribute("aria-valuenow", "-4.5");
  await field.fill("very loud");
  await field.press("Enter");
  await expect(page.getByRole("alert")).toHaveText("Allowed: −120 to +12 dB, or off.");
  await expect(target).toHaveAttribute("aria-valuenow", "-4.5");
});

test("the table holds the same sends as the lanes", async ({ page, own }) => {
  await openDesk(page, own);
  await page.getByRole("radio", { name: "Table" }).click();
  const field = page.getByRole("textbox", { name: "Guest call in Viewers, dB" });
  await expect(field).toHaveValue("+5.0 dB");
  await field.fill("off");
  await field.press("Enter");
  await page.getByRole("button", { name: /let My ears hear Host mic/ }).click();
  await page.getByRole("radio", { name: "Lanes" }).click();
  await expect(marker(page, "Guest call", "Viewers")).toHaveAttribute("aria-valuetext", "off");
  await expect(marker(page, "Host mic", "My ears")).toBeVisible();
});

test("a file that is no sound is refused with words, and the show goes on", async ({ page, own }) => {
  await openDesk(page, own);
  const path = join(own.data, "letter.wav");
  writeFileSync(path, "Dear harbour master");
  await page.getByRole("button", { name: "Add a sound" }).click();
  await page.getByLabel("Choose a sound file").setInputFiles(path);
  await page.getByRole("button", { name: "Add it" }).click();
  await expect(page.getByRole("alert")).toContainText("This is not a sound file that can be read");
  await expect(page.getByRole("alert")).toContainText("at most 15 minutes");
  await page.getByRole("button", { name: "Cancel" }).click();
  await expect(page.getByRole("slider")).toHaveCount(13);
});

test("a source can be renamed, given another look, and removed", async ({ page, own }) => {
  await openDesk(page, own);
  const path = join(own.data, "kettle.wav");
  writeWav(path, 1, (n) => 0.2 * Math.sin(n / 20));
  await page.getByRole("button", { name: "Add a sound" }).click();
  await page.getByLabel("Choose a sound file").setInputFiles(path);
  await page.getByRole("button", { name: "Add it" }).click();
  await page.getByRole("button", { name: "kettle", exact: true }).click();
  await page.getByRole("textbox", { name: "Name" }).fill("Copper kettle");
  await page.getByRole("textbox", { name: "Name" }).press("Enter");
  await page.getByRole("button", { name: "pennant" }).click();
  await expect(page.getByRole("button", { name: "pennant" })).toHaveAttribute("aria-pressed", "true");
  await expect(marker(page, "Copper kettle", "Viewers")).toBeVisible();
  await page.getByRole("button", { name: "Remove this source" }).click();
  await page.getByRole("alertdialog").getByRole("button", { name: "Remove it" }).click();
  await expect(marker(page, "Copper kettle", "Viewers")).toHaveCount(0);
});

test("a take is listed with its tracks, to download, and its file has its name", async ({ page, own }) => {
  await openDesk(page, own);
  await record(page, own, 1);
  await page.getByRole("link", { name: "Takes" }).click();
  await expect(page.getByRole("heading", { name: /^The Lamp Room \d{4}-/ })).toBeVisible();
  const download = page.waitForEvent("download");
  await page.getByRole("link", { name: "Download Viewers" }).click();
  expect((await download).suggestedFilename()).toMatch(/^The Lamp Room .* – 02 Viewers\.wav$/);
});

test("a show without any source says what to do", async ({ page, own }) => {
  const show = (await own.get("/api/shows/live")) as { sources: { id: string }[] };
  for (const { id } of show.sources) await own.send("DELETE", `/api/shows/LIVE/sources/${id}`, null);
  await page.goto(own.url);
  await expect(page.getByRole("heading", { name: "Nothing sounds yet" })).toBeVisible();
  await page.goto(`${own.url}/takes`);
  await expect(page.getByRole("heading", { name: "No take yet" })).toBeVisible();
});

test("a sound that comes in clipped says so at its source, and the inspector counts it", async ({ page, own }) => {
  await openDesk(page, own);
  const path = join(own.data, "hot.wav");
  writeWav(path, 3, (n) => Math.max(-1, Math.min(1 - 2 ** -23, n < 14400 ? 0 : 2 * Math.sin(n / 80))));
  await page.getByRole("button", { name: "Add a sound" }).click();
  await page.getByLabel("Choose a sound file").setInputFiles(path);
  await page.getByRole("button", { name: "Add it" }).click();
  const source = page.locator("li[data-source]", { hasText: "hot" });
  await expect(source).toBeVisible();
  await own.step(0.2);
  await expect(source.getByText("clips in the file itself")).toBeHidden();
  await expect(async () => {
    await own.step(0.1);
    await expect(source.getByText("clips in the file itself")).toBeVisible({ timeout: 400 });
  }).toPass();
  await page.getByRole("button", { name: "hot", exact: true }).click();
  await expect(page.getByText(/^[1-9]\d* times$/).first()).toBeVisible();
});
