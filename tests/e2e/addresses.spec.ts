import { execFile, spawn } from "node:child_process";
import { promisify } from "node:util";
import { expect, openDesk, test } from "./support/fixtures.ts";

test("an address is opened and closed with the keyboard alone, and another program hears the mix at what is copied", async ({
  page,
  own,
  context,
}) => {
  await context.grantPermissions(["clipboard-read", "clipboard-write"]);
  await openDesk(page, own);
  await page.getByRole("link", { name: "On air" }).press("Enter");
  const section = page.getByRole("region", { name: "Addresses" });
  await expect(section).toContainText("No address is open: no program gets anything in this way.");

  // Quick hands and a slow answer: it is opened once; and a letter that is typed there does nothing.
  let [posts, release] = [0, () => {}];
  const released = new Promise<void>((done) => {
    release = done;
  });
  await page.route("**/api/addresses", async (route) => {
    if (route.request().method() === "POST") {
      posts++;
      await released;
    }
    await route.continue();
  });
  const open = section.getByRole("button", { name: "Open an address" });
  await open.focus();
  await page.keyboard.press("x");
  await page.keyboard.press("Enter");
  await expect(page.getByRole("menuitem", { name: "the mix My ears" })).toBeFocused();
  await page.keyboard.press("Enter");

  // The focus is where it was, and the same once more changes nothing.
  await expect(open).toBeFocused();
  await page.keyboard.press("Enter");
  await expect(page.getByRole("menuitem", { name: "the mix My ears" })).toBeFocused();
  await page.keyboard.press("Enter");
  release();
  const line = section.getByRole("listitem", { name: "My ears", exact: true });
  await expect(line).toContainText("Nobody reads it now.");
  expect(posts).toBe(1);
  const copy = line.getByRole("button", { name: "Copy the address of My ears as FLAC" });
  await copy.press("Enter");
  await expect(line.getByText("Copied")).toBeVisible();
  const url = await page.evaluate(() => navigator.clipboard.readText());
  expect(url).toMatch(/^http:\/\/127\.0\.0\.1:\d+\/live\/[\w-]{22}\.flac$/);

  const pulled = promisify(execFile)("ffmpeg", [
    "-v",
    "info",
    "-i",
    url,
    "-t",
    "2",
    "-af",
    "volumedetect",
    "-f",
    "null",
    "-",
  ]);
  let told = "";
  pulled.then(({ stderr }) => {
    told = stderr;
  });
  await expect(line).toContainText("One program reads it now.");
  await expect
    .poll(async () => {
      await own.step(0.25);
      return told;
    })
    .toMatch(/max_volume: -?\d/);
  expect(Number(/max_volume: (-?[\d.]+) dB/.exec(told)?.[1])).toBeGreaterThan(-40);
  await expect(line).toContainText("Nobody reads it now.");

  await line.getByRole("button", { name: "Close the address of My ears" }).press("Enter");
  await expect(section).toContainText("No address is open: no program gets anything in this way.");
  expect((await fetch(url)).status).toBe(404);
});

test("another program sends into a cable at what is copied, and stands in Gear while it does; what is no sound is told", async ({
  page,
  own,
  context,
}) => {
  await context.grantPermissions(["clipboard-read", "clipboard-write"]);
  await own.send("POST", "/api/shows/LIVE/cables", { name: "Music in" });
  await openDesk(page, own);
  await page.getByRole("link", { name: "On air" }).press("Enter");
  const section = page.getByRole("region", { name: "Addresses" });
  await section.getByRole("button", { name: "Open an address" }).press("Enter");
  const item = page.getByRole("menuitem", { name: "the cable Music in" });
  await expect(item).toBeVisible();
  await item.press("Enter");
  const line = section.getByRole("listitem", { name: "Music in", exact: true });
  await expect(line).toContainText("Nobody sends into it now.");
  await line.getByRole("button", { name: "Copy the address that sends into Music in" }).press("Enter");
  await expect(line.getByText("Copied")).toBeVisible();
  const url = await page.evaluate(() => navigator.clipboard.readText());
  expect(url).toMatch(/^http:\/\/127\.0\.0\.1:\d+\/live\/[\w-]{22}$/);

  expect((await fetch(url, { method: "PUT", body: "no sound at all, and it goes on".repeat(9) })).status).toBe(422);
  await expect(line).toContainText("What came is no sound that can be read. Allowed: WAV");

  const tone = ["-re", "-f", "lavfi", "-i", "sine=frequency=500:duration=600", "-ac", "2", "-c:a", "libmp3lame"];
  const sends = spawn("ffmpeg", ["-v", "quiet", ...tone, "-f", "mp3", "-method", "PUT", `${url}.mp3`]);
  const over = new Promise((done) => sends.once("exit", done));
  await expect(line).toContainText("Sender to Music in sends MP3, 44.1 kHz, stereo");
  await expect(line).not.toContainText("What came is no sound");
  await page.getByRole("link", { name: "Gear" }).press("Enter");
  const program = page.getByRole("listitem", { name: "Sender to Music in" });
  await expect(program).toContainText("sends into Music in");
  // And a third program hears it out of the same cable.
  const hears = ["-v", "info", "-i", `${url}.wav`, "-t", "2", "-af", "volumedetect", "-f", "null", "-"];
  let told = "";
  promisify(execFile)("ffmpeg", hears).then(({ stderr }) => {
    told = stderr;
  });
  await expect
    .poll(async () => {
      await own.step(0.1);
      return told;
    })
    .toMatch(/max_volume: -?\d/);
  expect(Number(/max_volume: (-?[\d.]+) dB/.exec(told)?.[1])).toBeGreaterThan(-40);
  // It may be minutes ahead; who lets it go hears none of that.
  await page.getByRole("link", { name: "On air" }).press("Enter");
  await line.getByRole("button", { name: "Let go: who sends into Music in" }).press("Enter");
  await over;
  await expect(line).toContainText("Nobody sends into it now.");
  await page.getByRole("link", { name: "Gear" }).press("Enter");
  await expect(page.getByRole("heading", { name: "Gear" })).toBeVisible();
  await expect(program).toBeHidden();
});
