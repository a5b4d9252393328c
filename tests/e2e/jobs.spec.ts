import { execFileSync } from "node:child_process";
import { join } from "node:path";
import { expect, openDesk, sourceItem, test } from "./support/fixtures.ts";
import type { Server } from "./support/server.ts";
import { hearOnly, record } from "./support/sound.ts";

/** A file that is small, and takes the server seconds to read in. */
function longSound(server: Server) {
  const path = join(server.data, "long.flac");
  const quiet = ["-f", "lavfi", "-i", "anullsrc=r=192000:cl=stereo", "-t", "890", "-v", "error", "-y", path];
  execFileSync("ffmpeg", quiet);
  return path;
}

test("a take is read through and packed with the keyboard alone, and says what it came to", async ({ page, own }) => {
  await openDesk(page, own);
  await hearOnly(own, "viewers", "record-shelf");
  await record(page, own, 1);
  await page.getByRole("link", { name: "Takes" }).click();
  const verdict = page.getByRole("status").filter({ hasText: /^All \d+ tracks are what their names say/ });
  await expect(verdict).toBeVisible();
  const check = page.getByRole("button", { name: /^Check / });
  await expect(check).toBeEnabled();
  await check.focus();

  // Quick hands and a slow answer: it is asked for once.
  let asked = 0;
  let answer = () => {};
  const answered = new Promise<void>((done) => {
    answer = done;
  });
  await page.route("**/check", async (route) => {
    asked++;
    await answered;
    await route.continue();
  });
  for (const key of ["Enter", "Enter", " ", "c"]) await page.keyboard.press(key);
  answer();
  await expect(check).toBeEnabled();
  await expect(verdict).toBeVisible();
  expect(asked).toBe(1);
  await expect(check).toBeFocused();

  await page.keyboard.press("Tab");
  await page.keyboard.press("Enter");
  const link = page.getByRole("link", { name: "Download the ZIP" });
  await expect(link).toBeVisible();
  const [file] = await Promise.all([page.waitForEvent("download"), link.press("Enter")]);
  expect(file.suggestedFilename()).toMatch(/^The Lamp Room .*\.zip$/);
});

test("a long sound that is read in shows how far it is, and is stopped in its window or from any other", async ({
  page,
  own,
  context,
}) => {
  const path = longSound(own);
  await openDesk(page, own);
  const other = await context.newPage();
  await openDesk(other, own);
  await page.getByRole("button", { name: "Add a sound" }).click();
  const dialog = page.getByRole("dialog", { name: "Add a sound" });
  await dialog.locator("input[type=file]").setInputFiles(path);
  const add = dialog.getByRole("button", { name: "Add it" });

  await add.click();
  await expect(dialog.getByRole("progressbar", { name: "Reading in long.flac" })).toBeVisible();
  await other.setViewportSize({ width: 320, height: 640 });
  await expect(other.getByRole("button", { name: "1 at work: show" })).toBeVisible();
  expect(await other.evaluate(() => document.scrollingElement?.scrollWidth)).toBeLessThanOrEqual(320);
  await other.getByRole("button", { name: "1 at work: show" }).click();
  await other.getByRole("menuitem", { name: /^Stop reading in long\.flac/ }).press("Enter");
  await expect(dialog.getByRole("alert")).toContainText("Somebody stopped it");
  await expect(other.getByRole("button", { name: "at work" })).toBeHidden();

  await add.click();
  await dialog.getByRole("button", { name: "Stop" }).press("Enter");
  await expect(dialog.getByRole("alert")).toContainText("Nothing was added");
  await page.keyboard.press("Escape");
  await expect(sourceItem(page, "long")).toBeHidden();
});
