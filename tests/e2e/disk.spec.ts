import { execFileSync } from "node:child_process";
import { readdirSync, statSync } from "node:fs";
import { join } from "node:path";
import { expect, openDesk, test } from "./support/fixtures.ts";

const limit = 3 * 1024 * 1024;

test("the disk gets full while a take is recorded: it closes as good files, says why it ended, and the show plays on", async ({
  page,
  own,
}) => {
  await openDesk(page, own);
  own.limitFiles(limit);
  await page.getByRole("button", { name: "Record", exact: true }).click();
  await expect
    .poll(async () => ((await own.get("/api/status")) as { recordingTake: string | null }).recordingTake)
    .not.toBeNull();
  await own.step(14);
  const takes = async () =>
    (await own.get("/api/takes")) as { id: string; state: string; endedBecause: string | null; seconds: number }[];
  await expect.poll(async () => (await takes())[0]?.state).toBe("Interrupted");
  const [take] = await takes();
  expect(take?.endedBecause).toContain("The disk took no more");

  // Whoever looks at another screen hears of it there.
  await expect(page.getByText(/ended by itself: nothing is recorded now/).first()).toBeVisible();
  await page.keyboard.press("Escape");

  // Three bytes a sample, two channels: the first file that was full ended the take.
  const mostSeconds = limit / (48_000 * 6);
  const folder = join(own.data, "takes", take?.id ?? "");
  const files = readdirSync(folder).filter((f) => f.endsWith(".wav"));
  expect(files).toHaveLength(9);
  for (const file of files) {
    expect(statSync(join(folder, file)).size).toBeLessThanOrEqual(limit);
    // A program that is strict about damage decodes it to its end without a word.
    const said = execFileSync("ffmpeg", ["-v", "warning", "-xerror", "-i", join(folder, file), "-f", "null", "-"], {
      stdio: ["ignore", "pipe", "pipe"],
    });
    expect(said.toString()).toBe("");
    const seconds = Number(
      execFileSync("ffprobe", [
        "-v",
        "error",
        "-show_entries",
        "format=duration",
        "-of",
        "csv=p=0",
        join(folder, file),
      ]).toString(),
    );
    expect(seconds).toBeGreaterThan(mostSeconds - 1);
  }
  const frame = async () => ((await own.get("/api/status")) as { frame: number }).frame;
  const before = await frame();
  await own.step(2);
  expect(await frame()).toBeGreaterThan(before + 90_000);
  await page.getByRole("link", { name: "Takes" }).click();
  await expect(page.getByText("The disk took no more")).toBeVisible();
});
