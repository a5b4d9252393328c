import { readFileSync } from "node:fs";
import { expect, openDesk, test } from "./support/fixtures.ts";

interface Told {
  id: string;
  name: string;
  isPaused: boolean;
  seconds: number;
  marks: { at: number; words: string; byProgram: boolean }[];
}

test("a take pauses and is marked with the keyboard, and is heard on its time line, each track alone or silent", async ({
  page,
  own,
}) => {
  const newest = async () => ((await own.get("/api/takes")) as Told[])[0];
  await openDesk(page, own);
  await own.send("PATCH", "/api/shows/LIVE/mixes/viewers", { gain: -18 });
  await page.getByRole("link", { name: "Takes" }).click();
  await page.getByRole("button", { name: "Record", exact: true }).first().press("Enter");
  await expect.poll(newest).toBeDefined();
  await own.step(2);

  // A mark with words, a letter of which would do something elsewhere.
  await page.getByRole("textbox", { name: "What is to be marked; may stay empty" }).focus();
  await page.keyboard.type("r m laughs");
  await page.keyboard.press("Enter");
  await expect.poll(async () => (await newest())?.marks.map((m) => m.words)).toEqual(["r m laughs"]);
  await expect(page.getByRole("list", { name: "Marks" })).toContainText("r m laughs");

  // A slow answer: what is typed while it is on its way stays, for the next mark.
  let release = () => {};
  const released = new Promise<void>((done) => {
    release = done;
  });
  await page.route("**/api/takes/current/marks", async (route) => {
    await released;
    await route.continue();
  });
  const words = page.getByRole("textbox", { name: "What is to be marked; may stay empty" });
  await words.focus();
  await page.keyboard.type("one");
  await page.keyboard.press("Enter");
  await page.keyboard.type("two");
  const answered = page.waitForResponse("**/api/takes/current/marks");
  release();
  await answered;
  await expect(page.getByRole("list", { name: "Marks" })).toContainText("one");
  await expect(words).toHaveValue("two");
  await words.fill("");

  // Quick hands: it is paused once.
  const pause = page.getByRole("button", { name: "Pause", exact: true });
  await pause.focus();
  await page.keyboard.press("Enter");
  await expect(page.getByText("Paused: nothing is recorded, in no track, until it goes on.")).toBeVisible();
  await own.step(3);
  await page.getByRole("button", { name: "Go on", exact: true }).press("Enter");
  await expect.poll(async () => (await newest())?.isPaused).toBe(false);
  await own.step(4);
  await page.getByRole("button", { name: /^Stop/ }).press("Enter");
  await expect(page.getByRole("status").filter({ hasText: "are what their names say" })).toBeVisible();
  const take = await newest();
  expect(take?.seconds).toBeGreaterThan(5.9);
  expect(take?.seconds).toBeLessThan(6.1);
  expect(take?.marks.map((m) => [m.words, m.byProgram])).toEqual([
    ["r m laughs", false],
    ["one", false],
    ["Went on after a pause of 3.0 s", true],
  ]);

  // For an editing program: a time line by the take's name.
  await page.getByRole("button", { name: `For editing: ${take?.name}` }).press("Enter");
  const given = page.waitForEvent("download");
  await page.getByRole("menuitem", { name: /^edit list after CMX 3600, 30/ }).press("Enter");
  const list = await given;
  expect(list.suggestedFilename()).toBe(`${take?.name.replaceAll(":", "-")}.edl`);
  expect(readFileSync(await list.path(), "utf8")).toMatch(/^TITLE: .*\r\nFCM: NON-DROP FRAME\r\n\r\n001 {2}AX/);

  await page.getByRole("button", { name: `Time line of ${take?.name}` }).press("Enter");
  const line = page.getByRole("region", { name: `${take?.name} on its time line` });
  const place = line.getByRole("slider", { name: "Place in the take" });
  await place.focus();
  await expect(place).toHaveAttribute("aria-valuetext", "0:00 of 0:06");
  await page.keyboard.press("PageDown");
  await expect(place).toHaveAttribute("aria-valuenow", "2.00");
  await page.keyboard.press("ArrowRight");
  await expect(place).toHaveAttribute("aria-valuenow", "3.00");
  await page.keyboard.press("x");
  await expect(place).toHaveAttribute("aria-valuenow", "3.00");
  await page.keyboard.press("Home");

  // Only one is heard; the others go on silently, and it is said.
  const alone = line.getByRole("button", { name: "Hear Host mic alone" });
  await alone.press("Enter");
  await expect(alone).toHaveAttribute("aria-pressed", "true");
  await place.focus();
  await page.keyboard.press(" ");
  await expect(line.getByRole("button", { name: "Pause" })).toBeVisible();
  await expect.poll(async () => Number(await place.getAttribute("aria-valuenow"))).toBeGreaterThan(0.5);
  await page.keyboard.press(" ");
  await expect(line.getByRole("button", { name: "Play here" })).toBeVisible();
});

test("a test take ends by itself, is played back at once and judged, with one press of quick hands", async ({
  page,
  own,
}) => {
  const takes = async () => (await own.get("/api/takes")) as (Told & { state: string })[];
  await openDesk(page, own);
  await own.send("PATCH", "/api/shows/LIVE/mixes/viewers", { gain: -18 });
  await page.getByRole("link", { name: "Takes" }).click();
  await page.getByRole("button", { name: "Test take" }).dblclick();
  await expect.poll(async () => (await takes()).length).toBe(1);
  await expect(page.getByText("a test of 10 s")).toBeVisible();
  await own.step(9.5);
  expect((await takes())[0]?.state).toBe("Recording");
  await own.step(1);
  await expect.poll(async () => (await takes())[0]?.state).toBe("Done");
  expect((await takes())[0]?.seconds).toBeGreaterThanOrEqual(10);
  expect((await takes())[0]?.seconds).toBeLessThan(11);

  // It is heard without another press, and said to be what its names say.
  const line = page.getByRole("region", { name: "Test take on its time line" });
  await expect(line.getByRole("button", { name: "Pause" })).toBeVisible();
  await expect(page.getByRole("status").filter({ hasText: /tracks are what their names say/ })).toBeVisible();
  await line.getByRole("button", { name: "Pause" }).press("Enter");
  await expect(line.getByRole("button", { name: "Play here" })).toBeVisible();
});
