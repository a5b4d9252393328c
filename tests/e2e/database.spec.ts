import { expect, marker, openDesk, stored, test } from "./support/fixtures.ts";

test("the database goes away in mid-edit: sound and edits go on, the top bar says so, and all is stored once it is back", async ({
  page,
  live,
}) => {
  await openDesk(page, live);
  await marker(page, "Guest call", "Viewers").press("PageDown");
  await stored(live, "viewers", "guest-call", { gain: 2 });
  const frame = async () => ((await live.get("/api/status")) as { frame: number }).frame;
  await live.allowDatabase(false);
  await expect(page.getByText("Database away · nothing lost")).toBeVisible();
  const before = await frame();
  await marker(page, "Guest call", "Viewers").press("PageDown");
  await marker(page, "Sea mic", "Viewers").press("m");
  await stored(live, "viewers", "guest-call", { gain: -1 });
  await expect(page.getByText("Database away · 2 changes kept here")).toBeVisible();
  await expect(marker(page, "Sea mic", "Viewers")).toHaveAttribute("aria-valuetext", "+1.0 dB, muted");
  await page.keyboard.press("Control+z");
  await expect(marker(page, "Sea mic", "Viewers")).toHaveAttribute("aria-valuetext", "+1.0 dB");
  await expect.poll(frame).toBeGreaterThan(before + 48_000);
  await live.allowDatabase(true);
  await expect(page.getByText(/Database away/)).toBeHidden();

  // A crash now must find all of it in the database.
  await live.kill();
  await live.start();
  await stored(live, "viewers", "guest-call", { gain: -1 });
  await stored(live, "viewers", "sea-mic", { gain: 1, muted: false });
  const history = (await live.get("/api/shows/LIVE/history")) as { sentence: string }[];
  expect(history.map((h) => h.sentence)).toEqual([
    "Took back: Sea mic in Viewers muted",
    "Sea mic in Viewers muted",
    "Guest call in Viewers +2.0 → −1.0 dB",
    "Guest call in Viewers +5.0 → +2.0 dB",
  ]);
});
