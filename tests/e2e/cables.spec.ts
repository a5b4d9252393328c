import { readFile } from "node:fs/promises";
import { expect, openDesk, pick, sourceItem, test } from "./support/fixtures.ts";
import { hearOnly, record, rms } from "./support/sound.ts";

interface Show {
  sources: { id: string; name: string }[];
  loops: { held: unknown[] }[];
}

test("what plays into a cable is recorded from it at the level that was set, and undo takes it back", async ({
  page,
  stepped,
}) => {
  await openDesk(page, stepped);
  await hearOnly(stepped, "viewers", "record-shelf");
  await page.getByRole("button", { name: "Cables" }).click();
  const dialog = page.getByRole("dialog", { name: "Cables" });
  await dialog.getByRole("button", { name: "New cable" }).click();
  await pick(dialog.getByRole("button", { name: "Let something play into Cable" }), "Record shelf");
  await pick(dialog.getByRole("button", { name: "Add a source that records from Cable" }), "channels 1 and 2");
  await expect(dialog.getByRole("paragraph").filter({ hasText: "From Cable" })).toBeVisible();
  const level = dialog.getByRole("textbox", { name: "Level of Record shelf in Cable" });
  await level.fill("-12");
  await level.press("Enter");
  await expect(level).toHaveValue("−12.0 dB");
  await page.keyboard.press("Escape");
  await expect(sourceItem(page, "From Cable")).toBeVisible();
  await stepped.step(1);
  const take = await record(page, stepped, 1);
  expect(rms(take("From Cable").left) - rms(take("Record shelf").left)).toBeCloseTo(-12, 2);
  for (const _ of ["level", "source", "feed", "cable"]) await page.keyboard.press("Control+z");
  await expect(sourceItem(page, "From Cable")).toBeHidden();
  await page.getByRole("button", { name: "Cables" }).click();
  await expect(dialog.getByText("There is no cable yet.")).toBeVisible();
});

test("a loop is told in words and held muted, until somebody lets it play", async ({ page, stepped }) => {
  await openDesk(page, stepped);
  const made = (await stepped.send("POST", "/api/shows/LIVE/cables", { name: "Round" })) as {
    cables: { id: string }[];
  };
  const cable = made.cables[0]?.id ?? "";
  const show = (await stepped.send("POST", `/api/shows/LIVE/cables/${cable}/sources`, {
    left: 0,
    right: 1,
    name: "Comes back",
  })) as Show;
  const source = show.sources.find((s) => s.name === "Comes back")?.id ?? "";
  await stepped.send("PATCH", `/api/shows/LIVE/mixes/viewers/sends/${source}`, { heard: true, gain: -3 });
  await stepped.send("POST", `/api/shows/LIVE/cables/${cable}/feeds`, { from: { mix: "viewers" } });
  const words = page.getByText(
    /A loop through .*Comes back.* would ring on \(−3\.0 dB with each round\)\. It is held muted/,
  );
  await expect(words).toBeVisible();
  const marker = page.getByRole("slider", { name: "Comes back in Viewers" });
  await expect(marker).toHaveAttribute("aria-valuetext", /held: a loop/);
  await expect(marker).toContainText("held: a loop");
  await stepped.step(1);
  const held = await record(page, stepped, 1);
  expect(Math.max(...held("Comes back").left.map(Math.abs))).toBe(0);
  await page.getByRole("button", { name: /^Let it play/ }).click();
  await expect(page.getByText(/A loop through .* comes back by −3\.0 dB with each round\./)).toBeVisible();
  await expect(marker).not.toContainText("held");
  await stepped.step(1);
  const allowed = await record(page, stepped, 1);
  expect(rms(allowed("Comes back").left)).toBeGreaterThan(-60);
});

test("a show is exported as a file, imported as another show, and what is no show file is refused in words", async ({
  page,
  stepped,
}) => {
  await openDesk(page, stepped);
  await page.getByRole("button", { name: "The Lamp Room" }).click();
  const shows = page.getByRole("menuitem", { name: /shows/i });
  if (await shows.isVisible().catch(() => false)) await shows.click();
  const dialog = page.getByRole("dialog", { name: "Shows" });
  const [download] = await Promise.all([
    page.waitForEvent("download"),
    dialog.getByRole("link", { name: "Export The Lamp Room as a file" }).click(),
  ]);
  expect(download.suggestedFilename()).toBe("the-lamp-room.show.json");
  const file = await readFile(await download.path());
  expect((JSON.parse(file.toString()) as { format: string }).format).toBe("kinetra-show");
  await dialog
    .getByLabel("A show file")
    .setInputFiles({ name: "lamp.show.json", mimeType: "application/json", buffer: file });
  await expect(dialog.getByText("The Lamp Room 2")).toBeVisible();
  await dialog
    .getByLabel("A show file")
    .setInputFiles({ name: "song.json", mimeType: "application/json", buffer: Buffer.from('{"format":"song"}') });
  await expect(page.getByText("This is not a show file.", { exact: true })).toBeVisible();
});
