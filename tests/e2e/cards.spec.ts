import { expect, openDesk, test } from "./support/fixtures.ts";
import { gearOf, openGear, peaks } from "./support/gear.ts";

// Cards: what must be picked in each program, as its own lists name it; set by one press, copied and printed.

test.use({ demo: true });

const callHears = async (server: Parameters<typeof gearOf>[0]) =>
  (await gearOf(server)).apps.find((a) => a.id === "harbour-call")?.ports.find((p) => p.id === "mic")?.end;

test("a card comes up by itself when a cable has stolen the default, and one press by keys puts it right, measured", async ({
  page,
  stepped,
}) => {
  await openDesk(page, stepped);
  await expect(page.getByRole("region", { name: "Cards that have changed" })).toBeHidden();
  await page.getByRole("button", { name: "Let Viewers hear Computer" }).focus();
  await stepped.send("POST", "/api/shows/LIVE/cables", { name: "Thief" });
  const cards = page.getByRole("region", { name: "Cards that have changed" });
  await expect(cards.getByText(/^The default for .*playback must be Headset\. Now it is Into Thief\.$/)).toBeVisible();
  // It took nobody's focus.
  await expect(page.getByRole("button", { name: "Let Viewers hear Computer" })).toBeFocused();
  const set = cards.getByRole("button", { name: /^Make Headset the default for/ });
  await set.focus();
  await page.keyboard.press("Enter");
  await expect(cards.getByText("All picked")).toBeVisible();
  expect((await gearOf(stepped)).roles.map((r) => r.name)).not.toContain("Thief");
  // What is on the headset by default is on it again: the call, once the desk lets it play on.
  await stepped.send("PATCH", "/api/shows/LIVE/sources/guest-call", {
    input: { type: "app", app: "harbour-call", port: "voice", stillPlays: true },
  });
  await stepped.step(2);
  expect((await peaks(page, ["device/headset/out"]))[0]).toBeGreaterThan(-60);
  await cards.getByRole("button", { name: "Close" }).focus();
  await page.keyboard.press("Enter");
  await expect(cards).toBeHidden();
});

test("a wrong input is told with its name in that program's list, its place, and what it is now; one press makes the call hear it", async ({
  page,
  stepped,
}) => {
  await stepped.send("PUT", "/api/gear/apps/harbour-call/ports/mic", { choice: { type: "nothing" } });
  await stepped.send("PATCH", "/api/gear/apps/harbour-call", { volume: -12 });
  await openGear(page, stepped);
  await page.getByRole("button", { name: "What to pick where" }).focus();
  await page.keyboard.press("Enter");
  const dialog = page.getByRole("dialog", { name: "What to pick where" });
  const card = dialog.getByRole("region", { name: "Harbour call" });
  await expect(card.getByText("Its input must be Out of Guest line. Now it is nothing.")).toBeVisible();
  await expect(card.getByText(/^Usually in the call’s audio settings\./).first()).toBeVisible();
  await expect(dialog.getByRole("status")).toHaveText("1 of 7 is not so yet.");
  await stepped.step(4);
  expect((await peaks(page, ["app/harbour-call/mic"]))[0]).toBeLessThan(-100);

  // A slow answer and quick hands: it is set once.
  let [posts, release] = [0, () => {}];
  const released = new Promise<void>((done) => {
    release = done;
  });
  await page.route("**/cards/set*", async (route) => {
    posts++;
    await released;
    await route.continue();
  });
  const set = card.getByRole("button", { name: "Set it to Out of Guest line" });
  await set.focus();
  await page.keyboard.press("Enter");
  await page.keyboard.press("Enter");
  release();
  await expect(card.getByText("Its input: Out of Guest line.")).toBeVisible();
  expect(posts).toBe(1);
  await stepped.step(4);
  expect((await peaks(page, ["app/harbour-call/mic"]))[0]).toBeGreaterThan(-40);
  await expect(card.getByText("Its own volume must be full, 0 dB. Now it is −12.0 dB.")).toBeVisible();
});

test("all of a card is set at once, what is right folds away, and opens by keys", async ({ page, stepped }) => {
  await stepped.send("PUT", "/api/gear/apps/harbour-call/ports/mic", { choice: { type: "default" } });
  await stepped.send("PATCH", "/api/gear/apps/harbour-call", { volume: -12 });
  await page.goto(`${stepped.url}/gear?open=cards`);
  const card = page.getByRole("region", { name: "Harbour call" });
  await card.getByRole("button", { name: "Set all of it in Harbour call" }).click();
  await expect(page.getByRole("dialog").getByRole("status")).toHaveText("All is as it must be.");
  expect(await callHears(stepped)).toBe("cable/to-guest");
  const head = card.getByRole("button", { name: /^Harbour call/ });
  await expect(head).toHaveAttribute("aria-expanded", "false");
  await head.focus();
  await page.keyboard.press("Enter");
  await expect(card.getByText("Its own volume: full, 0 dB.")).toBeVisible();
  // What both has its price for is a person's to decide, and is no fault.
  await expect(card.getByLabel("Yours to decide")).toBeVisible();
  expect(((await stepped.get("/api/status")) as { hushed: boolean }).hushed).toBe(false);
});

test("cards are copied as text, and on paper stand alone and unfolded", async ({ page, stepped, context }) => {
  await context.grantPermissions(["clipboard-read", "clipboard-write"]);
  await page.addInitScript(() => {
    window.print = () => document.body.setAttribute("data-printed", "");
  });
  await stepped.send("PUT", "/api/gear/apps/harbour-call/ports/mic", { choice: { type: "nothing" } });
  await page.goto(`${stepped.url}/gear?open=cards`);
  await page.getByRole("button", { name: "Copy as text" }).click();
  await expect(page.getByText("Copied as text.", { exact: true })).toBeVisible();
  const text = await page.evaluate(() => navigator.clipboard.readText());
  expect(text).toContain("The Lamp Room: what to pick where\n\nThe computer: ");
  expect(text).toContain("[ ] Its input must be Out of Guest line. Now it is nothing.");
  expect(text).toContain("[x] Its input, first sound: Out of Air line.");
  await page.getByRole("button", { name: "Print" }).click();
  await expect(page.locator("body[data-printed]")).toBeAttached();
  await page.emulateMedia({ media: "print" });
  await expect(page.getByText("Its input, first sound: Out of Air line.")).toBeVisible();
  await expect(page.getByRole("heading", { name: "Gear", includeHidden: true })).toBeHidden();
  await expect(page.getByRole("button", { name: "Print", includeHidden: true })).toBeHidden();
});
