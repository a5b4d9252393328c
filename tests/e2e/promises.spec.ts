import { expect, marker, openDesk, stored, test } from "./support/fixtures.ts";

// Promises: made in a sentence, watched in routing and sound, broken and mended through the interface, with sound.

test.use({ demo: true });

test("private talk let into the viewers' mix breaks its promise in that moment, is heard there, and is mended by keys alone", async ({
  page,
  stepped,
}) => {
  await openDesk(page, stepped);
  await expect(page.getByRole("button", { name: /^11 promises kept · 2 not known$/ })).toBeVisible();
  await stepped.step(40);
  await expect(page.getByRole("button", { name: "13 promises kept", exact: true })).toBeVisible();

  await page.getByRole("button", { name: "Let Viewers hear Crew talk" }).focus();
  await page.keyboard.press("Enter");
  const news = page.getByRole("region", { name: /Notifications/ });
  await expect(
    news.getByText(/^A promise is broken: Crew talk never reaches Viewers\. Crew talk reaches Viewers/),
  ).toBeVisible();
  // Said once: what is found there is the same.
  await expect(news.getByText(/is private and reaches/)).toHaveCount(0);
  await expect(marker(page, "Crew talk", "Viewers")).toHaveAttribute("aria-valuetext", /is private/);
  const count = page.getByRole("button", { name: /2 broken/ });
  await stepped.step(40);

  await count.focus();
  await page.keyboard.press("Enter");
  const dialog = page.getByRole("dialog", { name: "Promises" });
  const row = dialog.getByRole("listitem", { name: "Crew talk never reaches Viewers" });
  await expect(row.getByText(/It was heard at Viewers, as loud as it leaves its chain/)).toBeVisible();
  // A letter typed here does nothing to the show.
  await page.keyboard.press("h");
  await row.getByRole("button", { name: "Leave Crew talk out of Viewers" }).focus();
  await page.keyboard.press("Enter");
  const effect = row.getByRole("region", { name: /what it would change/ });
  await expect(effect.getByText("Viewers no longer gets Crew talk.")).toBeVisible();
  await stored(stepped, "viewers", "crew-talk", { heard: true });
  await effect.getByRole("button", { name: "Do it" }).focus();
  await page.keyboard.press("Enter");
  await expect(row.getByText("No way leads there.")).toBeVisible();
  await stored(stepped, "viewers", "crew-talk", { heard: false });

  // When it broke stays, for after the show.
  await dialog.getByRole("button", { name: "When they broke" }).focus();
  await page.keyboard.press("Enter");
  await expect(dialog.getByText(/^Heard: It was heard at Viewers/).first()).toBeVisible();
  expect(((await stepped.get("/api/status")) as { hushed: boolean }).hushed).toBe(false);
});

test("what breaks a promise is taken back where that is told", async ({ page, stepped }) => {
  await openDesk(page, stepped);
  await page.getByRole("button", { name: "Let Viewers hear Crew talk" }).click();
  await page.getByRole("button", { name: "Take that back" }).click();
  await stored(stepped, "viewers", "crew-talk", { heard: false });
  await expect(page.getByText(/^A promise is broken/)).toBeHidden();
});

test("a promise is said in a sentence with choices, changed, and no longer said; quick hands say it once", async ({
  page,
  stepped,
}) => {
  await openDesk(page, stepped);
  await page.getByRole("button", { name: /promises kept/ }).click();
  const dialog = page.getByRole("dialog", { name: "Promises" });
  await dialog.getByRole("button", { name: "Say another" }).click();
  const maker = dialog.getByRole("region", { name: "Say another" });
  await maker.getByRole("button", { name: /^What is promised/ }).click();
  await page.getByRole("menuitem", { name: "A mix’s true peak stays under a ceiling" }).click();
  await maker.getByRole("button", { name: /^Mix: / }).click();
  await page.getByRole("menuitem", { name: "Guest hears" }).click();
  const ceiling = maker.getByRole("textbox", { name: "Under, dBTP" });
  await ceiling.fill("loud");
  await page.keyboard.press("Enter");
  await expect(maker.getByText("Allowed: −20 to 0 dBTP.")).toBeVisible();
  await ceiling.fill("-3");
  await page.keyboard.press("Enter");
  await maker.getByRole("button", { name: "Promise it" }).dblclick();
  const row = dialog.getByRole("listitem", { name: "The true peak of Guest hears stays under −3 dBTP" });
  await expect(row).toHaveCount(1);

  await row.getByRole("button", { name: "Change" }).click();
  await row.getByRole("textbox", { name: "Under, dBTP" }).fill("−6");
  await page.keyboard.press("Enter");
  await row.getByRole("button", { name: "Promise this instead" }).click();
  const changed = dialog.getByRole("listitem", { name: "The true peak of Guest hears stays under −6 dBTP" });
  await expect(changed).toHaveCount(1);
  await changed.getByRole("button", { name: "Change" }).click();
  await changed.getByRole("button", { name: "Promise it no longer" }).click();
  await expect(changed).toHaveCount(0);
  const show = (await stepped.get("/api/shows/live")) as { promises: unknown[] };
  expect(show.promises).toHaveLength(13);
});

test("what is offered is promised in one press, and all of it is one step of undo", async ({ page, stepped }) => {
  await openDesk(page, stepped);
  await page.getByRole("button", { name: /promises kept/ }).click();
  const dialog = page.getByRole("dialog", { name: "Promises" });
  await dialog.getByRole("button", { name: /^Promise all \d+$/ }).click();
  await expect(dialog.getByText("This show could promise too")).toBeHidden();
  await page.keyboard.press("Escape");
  await page.getByRole("button", { name: /^Undo/ }).click();
  await expect
    .poll(async () => ((await stepped.get("/api/shows/live")) as { promises: unknown[] }).promises.length)
    .toBe(13);
});

test("a finding that is accepted is counted no more, and again once it is said again", async ({ page, stepped }) => {
  await openDesk(page, stepped);
  await page.getByRole("button", { name: "Let Viewers hear Crew talk" }).click();
  await page.getByRole("button", { name: "1 finding", exact: true }).click();
  const dialog = page.getByRole("dialog", { name: "What is found" });
  await dialog.getByRole("button", { name: "Accept it so" }).click();
  await expect(dialog.getByText("Accepted.")).toBeVisible();
  await page.keyboard.press("Escape");
  await expect(page.getByRole("button", { name: "Nothing wrong found" })).toBeVisible();
  await page.getByRole("button", { name: "Nothing wrong found" }).click();
  await dialog.getByRole("button", { name: "Say it again" }).click();
  await page.keyboard.press("Escape");
  await expect(page.getByRole("button", { name: "1 finding", exact: true })).toBeVisible();
});
