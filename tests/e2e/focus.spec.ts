import type { Page } from "@playwright/test";
import { expect, marker, openDesk, pick, sourceItem, stored, test } from "./support/fixtures.ts";

const focused = (page: Page) =>
  page.evaluate(() => {
    const e = document.activeElement;
    return e === document.body ? "nothing" : (e?.getAttribute("aria-label") ?? e?.textContent ?? "");
  });

test("who docks a source by keys stays with it: in the dock, and back in the lane", async ({ page, stepped }) => {
  await openDesk(page, stepped);
  await marker(page, "Sea mic", "Viewers").focus();
  await page.keyboard.press("d");
  const chip = page.getByRole("button", { name: "Let Viewers hear Sea mic" });
  await expect(chip).toBeFocused();
  await page.keyboard.press("Enter");
  await expect(marker(page, "Sea mic", "Viewers")).toBeFocused();
  await page.keyboard.press("ArrowRight");
  await stored(stepped, "viewers", "sea-mic", { heard: true });
});

test("Enter on a marker, a source or a lane's name leads into its inspector, and Escape back", async ({
  page,
  stepped,
}) => {
  await openDesk(page, stepped);
  const inspector = page.getByRole("complementary", { name: /^Inspector/ });
  const source = sourceItem(page, "Skerry Keeper").getByRole("button", { name: "Skerry Keeper", exact: true });
  const mix = page
    .getByRole("region", { name: "What Viewers gets" })
    .getByRole("button", { name: "Viewers", exact: true });
  for (const from of [marker(page, "Sea mic", "Viewers"), source, mix]) {
    await from.focus();
    await page.keyboard.press("Enter");
    await expect(inspector).toBeFocused();
    await page.keyboard.press("Tab");
    await page.keyboard.press("Tab");
    expect(await page.evaluate(() => document.activeElement?.closest("aside") !== null)).toBe(true);
    // In a field it first takes back what was typed, and closes only then.
    if (await page.evaluate(() => document.activeElement?.tagName === "INPUT")) {
      await page.keyboard.type("x");
      await page.keyboard.press("Escape");
      await expect(inspector).toBeVisible();
    }
    await page.keyboard.press("Escape");
    await expect(inspector).toHaveCount(0);
    await expect(from).toBeFocused();
  }
  // Open already: Space shows without going there, Enter goes in.
  await marker(page, "Sea mic", "Viewers").focus();
  await page.keyboard.press(" ");
  await expect(inspector).toBeVisible();
  await expect(marker(page, "Sea mic", "Viewers")).toBeFocused();
  await page.keyboard.press("Enter");
  await expect(inspector).toBeFocused();
});

test("whatever is closed, removed, added or used up by keys, focus never falls to the page itself", async ({
  page,
  stepped,
}) => {
  await openDesk(page, stepped);
  const source = sourceItem(page, "Skerry Keeper").getByRole("button", { name: "Skerry Keeper", exact: true });
  await source.focus();
  await page.keyboard.press("Enter");
  const remove = page.getByRole("button", { name: "Remove this source" });
  await remove.focus();
  await page.keyboard.press("Enter");
  await page.getByRole("button", { name: "Remove it" }).focus();
  await page.keyboard.press("Enter");
  await expect(source).toHaveCount(0);
  await expect.poll(() => focused(page)).not.toBe("nothing");
  expect(await page.evaluate(() => document.activeElement?.closest("section")?.getAttribute("aria-label"))).toBe(
    "Sources",
  );

  const undo = page.getByRole("button", { name: "Undo", exact: true });
  await undo.focus();
  await page.keyboard.press("Enter");
  await expect(source).toBeVisible();
  await expect(undo).toBeDisabled();
  await expect.poll(() => focused(page)).not.toBe("nothing");

  const add = page.getByRole("button", { name: "Add a mix" });
  await add.focus();
  await page.keyboard.press("Enter");
  await expect(page.getByRole("dialog")).toBeVisible();
  await page.keyboard.press("Escape");
  await expect(add).toBeFocused();
  await page.keyboard.press("Enter");
  await page.getByRole("textbox", { name: "Name" }).fill("Attic");
  await page.keyboard.press("Enter");
  await expect(page.getByRole("region", { name: "What Attic gets" })).toBeVisible();
  await expect(page.getByRole("dialog")).toHaveCount(0);
  await expect.poll(() => focused(page)).not.toBe("nothing");

  await page.getByRole("button", { name: "Cables" }).focus();
  await page.keyboard.press("Enter");
  const dialog = page.getByRole("dialog", { name: "Cables" });
  await dialog.getByRole("button", { name: "New cable" }).click();
  await pick(dialog.getByRole("button", { name: "Let something play into Cable" }), "Record shelf");
  const feed = dialog.getByRole("button", { name: "Record shelf no longer plays into Cable" });
  await feed.focus();
  await page.keyboard.press("Enter");
  await expect(feed).toHaveCount(0);
  await expect.poll(() => focused(page)).not.toBe("nothing");
  expect(await page.evaluate(() => document.activeElement?.closest("[role=dialog]") !== null)).toBe(true);
});

test("who has left a marker with the pointer is not given its neighbour when somebody else takes it away", async ({
  page,
  stepped,
}) => {
  await openDesk(page, stepped);
  await marker(page, "Sea mic", "Viewers").focus();
  await page.getByRole("heading", { name: /^Desk/ }).click();
  await stepped.send("PATCH", "/api/shows/LIVE/mixes/viewers/sends/sea-mic", { heard: false });
  await expect(page.getByRole("button", { name: "Let Viewers hear Sea mic" })).toBeVisible();
  expect(await page.evaluate(() => document.activeElement?.matches("[data-stop]"))).toBe(false);
});

test("arrows and letters on a choice that is closed change nothing", async ({ page, stepped }) => {
  await openDesk(page, stepped);
  await page.getByRole("button", { name: "Cables" }).click();
  const dialog = page.getByRole("dialog", { name: "Cables" });
  await dialog.getByRole("button", { name: "New cable" }).click();
  const choice = dialog.getByRole("button", { name: "Let something play into Cable" });
  await choice.focus();
  for (const key of ["r", "v", "ArrowDown", "Escape"]) await page.keyboard.press(key);
  await page.evaluate(() => fetch("/api/status"));
  const show = (await stepped.get("/api/shows/live")) as { cables: { feeds: unknown[] }[] };
  expect(show.cables.map((c) => c.feeds.length)).toEqual([0]);
});
