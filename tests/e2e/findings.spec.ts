import { expect, marker, openDesk, stored, test } from "./support/fixtures.ts";
import { loudest } from "./support/gear.ts";

// What goes wrong in a real rig, found and ended through the interface, with sound.

test.use({ demo: true });

const guest = "app/harbour-call/mic";

test("the guest in the guest's own mix is told beside the edit, heard by the guest, and gone once the fix is pressed, by keys alone", async ({
  page,
  stepped,
}) => {
  await openDesk(page, stepped);
  await expect(page.getByRole("button", { name: "Nothing wrong found" })).toBeVisible();
  const { id, revision } = (await stepped.get("/api/shows/live")) as { id: string; revision: number };
  const others = ["host-mic", "second-mic", "skerry-keeper", "record-shelf"];
  for (const [n, other] of others.entries()) {
    const to = `/api/shows/${id}/mixes/guest-hears/sends/${other}?revision=${revision + n}`;
    await stepped.send("PATCH", to, { muted: true });
  }
  await expect(marker(page, "Record shelf", "Guest hears")).toHaveAttribute("aria-valuetext", /muted/);
  const [quiet = []] = await loudest(page, stepped, [guest], 3);
  expect(Math.max(...quiet)).toBeLessThan(-100);

  await page.getByRole("button", { name: "Let Guest hears hear Guest call" }).focus();
  await page.keyboard.press("Enter");
  const words = /Those on Harbour call hear their own voice through Guest hears, Guest line/;
  // The promise that it breaks says it, and the finding is not told a second time.
  const news = page.getByRole("region", { name: /Notifications/ });
  await expect(news.getByText(/^A promise is broken: Guest call never hears itself/)).toBeVisible();
  await expect(news.getByText(words)).toHaveCount(0);
  const count = page.getByRole("button", { name: "1 finding", exact: true });
  await expect(count).toBeVisible();
  await expect(marker(page, "Guest call", "Guest hears")).toHaveAttribute("aria-valuetext", words);
  await expect(page.getByRole("button", { name: "1 finding at Guest hears" })).toBeVisible();
  const [echo = []] = await loudest(page, stepped, [guest], 5);
  expect(Math.max(...echo)).toBeGreaterThan(-50);

  await count.focus();
  await page.keyboard.press("Enter");
  const dialog = page.getByRole("dialog", { name: "What is found" });
  await expect(dialog.getByText(words)).toBeVisible();
  // A letter typed here does nothing to the show.
  await page.keyboard.press("h");
  await dialog.getByRole("button", { name: "Leave Guest call out of Guest hears" }).focus();
  await page.keyboard.press("Enter");
  const effect = dialog.getByRole("region", { name: /what it would change/ });
  await expect(effect.getByText("Harbour call no longer gets Guest call.")).toBeVisible();
  await stored(stepped, "guest-hears", "guest-call", { heard: true });
  await effect.getByRole("button", { name: "Do it" }).focus();
  await page.keyboard.press("Enter");
  await expect(dialog.getByText(words)).toBeHidden();
  await page.keyboard.press("Escape");
  await expect(page.getByRole("button", { name: "Nothing wrong found" })).toBeVisible();
  await stored(stepped, "guest-hears", "guest-call", { heard: false });
  await stepped.step(1);
  const [gone = []] = await loudest(page, stepped, [guest], 3);
  expect(Math.max(...gone)).toBeLessThan(-100);
  expect(((await stepped.get("/api/status")) as { hushed: boolean }).hushed).toBe(false);
});

test("with the longest names all that is offered stays within its dialog", async ({ page, stepped }) => {
  await openDesk(page, stepped);
  const long = "The one who reads tide tables aloud at the harbour wall";
  await stepped.send("PATCH", "/api/shows/LIVE/sources/guest-call", { name: `${long}, A` });
  await stepped.send("PATCH", "/api/shows/LIVE/mixes/guest-hears", { name: `${long}, B` });
  await stepped.send("PATCH", "/api/shows/LIVE/mixes/guest-hears/sends/guest-call", { heard: true, muted: false });
  for (const [open, name] of [
    [/^1 finding$/, "What is found"],
    [/promises kept/, "Promises"],
  ] as const) {
    await page.getByRole("button", { name: open }).click();
    const dialog = page.getByRole("dialog", { name });
    await expect(dialog.getByRole("button", { name: /^Leave The one who reads/ })).toBeVisible();
    const outer = await dialog.boundingBox();
    for (const button of await dialog.getByRole("button").all()) {
      const inner = await button.boundingBox();
      expect(outer && inner && inner.x + inner.width <= outer.x + outer.width, await button.innerText()).toBe(true);
    }
    await page.keyboard.press("Escape");
  }
});

test("what an edit brought is taken back where it is told", async ({ page, stepped }) => {
  await openDesk(page, stepped);
  await page.getByRole("button", { name: "Let Viewers hear Crew talk" }).click();
  const told = page.getByRole("region", { name: /Notifications/ }).getByRole("listitem");
  await expect(told).toContainText("Crew talk never reaches Viewers");
  await told.getByRole("button", { name: "Take that back" }).click();
  await stored(stepped, "viewers", "crew-talk", { heard: false });
  await expect(told).toBeHidden();
  await expect(page.getByRole("button", { name: "Nothing wrong found" })).toBeVisible();
});

test("a notice keeps Escape from nothing: it goes, and so does what is open", async ({ page, stepped }) => {
  await openDesk(page, stepped);
  await page.getByRole("button", { name: "Let Viewers hear Crew talk" }).click();
  const told = page.locator("[data-notice]").filter({ hasText: "Crew talk never reaches Viewers" });
  await page.getByRole("button", { name: "Cables" }).click();
  const dialog = page.getByRole("dialog", { name: "Cables" });
  await expect(dialog).toBeVisible();
  await expect(told).toBeVisible();
  await page.keyboard.press("Escape");
  await expect(dialog).toBeHidden();
  await expect(told).toBeHidden();
});

test("quick hands under a slow answer: a fix that is pressed twice is one step", async ({ page, stepped }) => {
  await openDesk(page, stepped);
  await page.getByRole("button", { name: "Let Guest hears hear Guest call" }).click();
  await page.getByRole("button", { name: "1 finding", exact: true }).click();
  let wait: (() => void) | undefined;
  const held = new Promise<void>((resolve) => {
    wait = resolve;
  });
  await page.route("**/findings/fix*", async (route) => {
    await held;
    await route.continue();
  });
  await page.getByRole("button", { name: "Leave Guest call out of Guest hears" }).click();
  const { revision } = (await stepped.get("/api/shows/live")) as { revision: number };
  await page.getByRole("button", { name: "Do it" }).dblclick();
  wait?.();
  await expect(page.getByRole("dialog").getByText(/hear their own voice/)).toBeHidden();
  expect(((await stepped.get("/api/shows/live")) as { revision: number }).revision).toBe(revision + 1);
});

test("a send says every stretch of the way, and where it is not heard why, and what would let it be heard", async ({
  page,
  stepped,
}) => {
  await openDesk(page, stepped);
  await marker(page, "Record shelf", "Viewers").click();
  const trace = page.getByRole("region", { name: "How it gets here" });
  await expect(trace).toContainText("Record shelf reaches Viewers by one way");
  const send = trace.getByRole("listitem").filter({ hasText: "send" });
  await expect(send).toContainText("−9.0 dB");
  // How loud it is there now: before the mix's gain and chain, which no meter frame has, and at what it takes in.
  const level = async () => {
    await stepped.step(0.2);
    return send.locator("[data-level]").textContent();
  };
  await expect.poll(level).toMatch(/^−\d+$/);
  await expect(trace.getByRole("listitem").first().locator("[data-level]")).toHaveText(/^−?\d+$/);
  await trace.getByRole("radio", { name: "Beacon encoder" }).click();
  await expect(trace).toContainText("Record shelf reaches Beacon encoder by one way");
  await expect(trace.getByRole("listitem").last()).toContainText("Beacon encoder hears it");
  await page.goto(`${stepped.url}/?at=send/guest-hears/sea-mic`);
  await expect(trace).toContainText(
    "Guest hears does not hear Sea mic, because Sea mic waits in the dock of Guest hears.",
  );
  await trace.getByRole("button", { name: "Let Guest hears hear Sea mic" }).click();
  await expect(trace).toContainText("Harbour call gets Sea mic");
  await trace.getByRole("button", { name: "Do it" }).click();
  await expect(trace).toContainText("Sea mic reaches Guest hears by one way");
  await stored(stepped, "guest-hears", "sea-mic", { heard: true });
});
