import { execFileSync, spawnSync } from "node:child_process";
import type { Page } from "@playwright/test";
import { expect, openDesk, test } from "./support/fixtures.ts";
import type { Server } from "./support/server.ts";

interface Told {
  id: string;
  name: string;
  notes: string;
  from: number;
  to: number | null;
  seconds: number;
}

const takes = async (own: Server) => (await own.get("/api/takes")) as Told[];

async function recorded(page: Page, own: Server, seconds: number): Promise<Told> {
  await own.send("PATCH", "/api/shows/LIVE/mixes/viewers", { gain: -18 });
  await own.send("POST", "/api/takes", { name: "Evening" });
  await own.step(seconds / 2);
  await own.send("POST", "/api/takes/current/marks", { words: "second half" });
  await own.step(seconds / 2);
  await own.send("POST", "/api/takes/current/stop", {});
  await page.getByRole("link", { name: "Takes" }).click();
  await expect(page.getByRole("status").filter({ hasText: "are what their names say" })).toBeVisible();
  return (await takes(own))[0] as Told;
}

/** What another program says of a file: integrated loudness, LUFS; true peak, dBTP; length, seconds. */
function measured(file: string) {
  const { stderr } = spawnSync("ffmpeg", ["-nostats", "-i", file, "-af", "ebur128=peak=true", "-f", "null", "-"]);
  const summary = stderr.toString().split("Summary:").pop() ?? "";
  const seconds = execFileSync("ffprobe", ["-v", "error", "-show_entries", "format=duration", "-of", "csv=p=0", file]);
  return {
    lufs: Number(/I:\s+(-?[\d.]+) LUFS/.exec(summary)?.[1]),
    peak: Number(/Peak:\s+(-?[\d.]+) dBFS/.exec(summary)?.[1]),
    seconds: Number(seconds.toString()),
  };
}

test("a take is trimmed and given out at a loudness with the keyboard alone, as another program measures it", async ({
  page,
  own,
}) => {
  await openDesk(page, own);
  const take = await recorded(page, own, 12);
  await page.getByRole("button", { name: "Time line of Evening" }).press("Enter");
  const place = page.getByRole("slider", { name: "Place in the take" });
  await place.focus();
  await page.keyboard.press("ArrowRight");
  await page.keyboard.press("b");
  await expect(page.getByText(/kept of 0:12/)).toBeVisible();
  await page.keyboard.press("End");
  await page.keyboard.press("ArrowLeft");
  await page.keyboard.press("e");
  await expect.poll(async () => (await takes(own))[0]?.to).toBeCloseTo(take.seconds - 1, 2);
  expect((await takes(own))[0]?.from).toBeCloseTo(1, 2);

  // An end before its beginning is refused, in words, and nothing is lost.
  await page.keyboard.press("Home");
  await page.keyboard.press("e");
  await expect(page.getByText(/cannot end at 0 s|Nothing would be left/).first()).toBeVisible();
  await expect(page.getByText(/0:10 kept of 0:12/)).toBeVisible();

  await page.getByRole("button", { name: "Sound files of Evening" }).press("Enter");
  const dialog = page.getByRole("dialog");
  // It has the focus once it is there: what is focused before that loses it.
  await expect(dialog.getByRole("button", { name: "Close" })).toBeFocused();
  await dialog.getByRole("radio", { name: "One blend" }).press("Enter");
  await expect(dialog.getByText("1 track, as")).toBeVisible();
  const loudness = dialog.getByRole("textbox", { name: "Loudness" });
  await loudness.focus();
  await page.keyboard.type("-3");
  await page.keyboard.press("Enter");
  await expect(dialog.getByRole("alert")).toHaveText("Allowed: −36 to −6 LUFS.");
  await loudness.fill("-18.5");
  await dialog.getByRole("button", { name: "Make them" }).press("Enter");
  const link = page.getByRole("link", { name: /Download what was made/ });
  await expect(link).toContainText("−18.5 LUFS");
  const given = page.waitForEvent("download");
  await link.press("Enter");
  const file = await given;
  expect(file.suggestedFilename()).toBe("Evening.wav");
  const { lufs, peak, seconds } = measured(await file.path());
  expect(lufs).toBeCloseTo(-18.5, 0);
  expect(Math.abs(lufs + 18.5)).toBeLessThan(0.16);
  expect(peak).toBeLessThan(-0.9);
  expect(seconds).toBeCloseTo(take.seconds - 2, 2);

  await page.getByRole("button", { name: "Keep all of it" }).press("Enter");
  await expect.poll(async () => (await takes(own))[0]?.to).toBeNull();
});

test("a take is renamed, noted, deleted and brought back, with quick hands and under a slow answer", async ({
  page,
  own,
}) => {
  await openDesk(page, own);
  await recorded(page, own, 2);
  await page.getByRole("button", { name: "More about Evening" }).press("Enter");
  await page.getByRole("menuitem", { name: "Rename" }).press("Enter");
  await page.keyboard.type("The gale");
  await page.keyboard.press("Enter");
  await expect(page.getByRole("heading", { name: "The gale" })).toBeVisible();

  // Letters that do something elsewhere are words here; going to another screen keeps what was typed.
  const notes = page.getByRole("textbox", { name: "Notes on The gale" });
  await notes.focus();
  await page.keyboard.type("r m b e: guest at 0:40");
  await page.keyboard.press("Escape");
  await expect(notes).toHaveValue("");
  await page.keyboard.type("guest r m at 0:40");
  await page.getByRole("link", { name: "Pads" }).click();
  await expect.poll(async () => (await takes(own))[0]?.notes).toBe("guest r m at 0:40");
  await page.getByRole("link", { name: "Takes" }).click();
  await expect(notes).toHaveValue("guest r m at 0:40");
  expect(await takes(own)).toHaveLength(1);

  // What cannot be kept once its screen was left stands there again.
  await page.route("**/api/takes/*", (route) =>
    route.request().method() === "PATCH" ? route.abort() : route.continue(),
  );
  await notes.fill("guest r m at 0:41");
  const failed = page.waitForEvent("requestfailed");
  await page.getByRole("link", { name: "Pads" }).click();
  await failed;
  await page.getByRole("link", { name: "Takes" }).click();
  await expect(notes).toHaveValue("guest r m at 0:41");
  expect((await takes(own))[0]?.notes).toBe("guest r m at 0:40");
  await page.unroute("**/api/takes/*");
  await page.getByRole("link", { name: "Pads" }).click();
  await expect.poll(async () => (await takes(own))[0]?.notes).toBe("guest r m at 0:41");
  await page.getByRole("link", { name: "Takes" }).click();

  // A slow answer: it goes once, however often it is asked for.
  let release = () => {};
  const released = new Promise<void>((done) => {
    release = done;
  });
  let asked = 0;
  await page.route("**/api/takes/*", async (route) => {
    if (route.request().method() === "DELETE") {
      asked++;
      await released;
    }
    await route.continue();
  });
  for (let n = 0; n < 2; n++) {
    await page.getByRole("button", { name: "More about The gale" }).press("Enter");
    await page.getByRole("menuitem", { name: "Delete" }).press("Enter");
  }
  release();
  await expect(page.getByText("“The gale” is deleted.").first()).toBeVisible();
  await expect.poll(() => takes(own)).toHaveLength(0);
  expect(asked).toBe(1);
  await page.getByRole("button", { name: "Bring it back" }).press("Enter");
  await expect(page.getByRole("heading", { name: "The gale" })).toBeVisible();

  await page.getByRole("button", { name: "More about The gale" }).press("Enter");
  await page.getByRole("menuitem", { name: "Delete" }).press("Enter");
  const gone = page.getByRole("region", { name: "Deleted takes" });
  await gone.getByRole("button", { name: "Delete for good: The gale" }).press("Enter");
  await page.getByRole("button", { name: "Delete it for good" }).press("Enter");
  await expect(gone).toBeHidden();
  await expect(page.getByText("No take yet")).toBeVisible();
});

test("a take that is deleted elsewhere while it plays is gone here, and it is said", async ({ page, own, context }) => {
  await openDesk(page, own);
  // Long enough to be playing still, however slow the machine is.
  const { id } = await recorded(page, own, 30);
  await page.getByRole("button", { name: "Time line of Evening" }).press("Enter");
  const other = await context.newPage();
  await openDesk(other, own);
  await other.getByRole("link", { name: "Takes" }).click();
  await other.getByRole("button", { name: "More about Evening" }).press("Enter");
  const remove = other.getByRole("menuitem", { name: "Delete" });
  await expect(remove).toBeVisible();
  await page.getByRole("button", { name: "Play here" }).press("Enter");
  const place = page.getByRole("slider", { name: "Place in the take" });
  await expect.poll(async () => Number(await place.getAttribute("aria-valuenow"))).toBeGreaterThan(0.2);
  // Its sound is gone before the word of it is here.
  const missed = page.waitForResponse((r) => r.url().includes("/sound?") && r.status() === 404);
  await page.route("**/api/takes", async (route) => {
    await missed;
    await route.continue();
  });
  await remove.press("Enter");
  await expect(page.getByText("“Evening” was deleted while it played here.").first()).toBeVisible();
  await expect(page.getByText("No take yet")).toBeVisible();
  expect((await takes(own)).some((t) => t.id === id)).toBe(false);
  await other.close();
});
