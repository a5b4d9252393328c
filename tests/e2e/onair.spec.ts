import type { Page } from "@playwright/test";
import { expect, openDesk, test } from "./support/fixtures.ts";
import type { Server } from "./support/server.ts";
import { addTone } from "./support/sound.ts";

interface Compared {
  comparison: { place: string; processor: string | null; isWithout: boolean; difference: number | null } | null;
}

interface Chained {
  id: string;
  type: string;
  bypassed: boolean;
}

const compared = async (server: Server) => ((await server.get("/api/on-air")) as Compared).comparison;

async function chainOf(server: Server, source: string): Promise<Chained[]> {
  const show = (await server.get("/api/shows/live")) as { sources: { id: string; chain: Chained[] }[] };
  return show.sources.find((s) => s.id === source)?.chain ?? [];
}

/** The workshop on a steady tone that its chain makes 9 dB quieter and then cuts. */
async function onTone(page: Page, server: Server): Promise<string> {
  const tone = await addTone(server);
  await server.send("POST", `/api/shows/LIVE/sources/${tone}/chain`, { type: "utility" });
  await server.send("POST", `/api/shows/LIVE/sources/${tone}/chain`, { type: "lowCut" });
  const [utility] = await chainOf(server, tone);
  await server.send("PATCH", `/api/shows/LIVE/sources/${tone}/chain/${utility?.id}`, { values: { gain: -9 } });
  await server.step(2);
  await openDesk(page, server);
  await page.goto(`${server.url}/voice?at=source/${tone}`);
  await expect(page.getByRole("button", { name: "Bench", exact: true })).toBeVisible();
  return tone;
}

const row = (page: Page) => page.getByRole("group", { name: /^Let all hear/ }).first();
const banner = (page: Page) => page.getByText(/^On air: all hear .* without its chain/);

test("on air, all hear it without, as loud, and every window says so; any of them ends it, and the show is as it was", async ({
  page,
  context,
  stepped,
}) => {
  const tone = await onTone(page, stepped);
  const before = await chainOf(stepped, tone);
  await expect(page.getByRole("radio", { name: "For me alone" })).toBeChecked();
  await page.getByRole("radio", { name: "On air" }).click();
  await expect(row(page).getByRole("button", { name: "With", exact: true })).toHaveAttribute("aria-pressed", "true");
  expect((await compared(stepped))?.isWithout).toBe(false);
  await expect(page.getByText(/^On air: all hear .* with its chain/)).toBeVisible();
  const place = await row(page).boundingBox();
  await row(page).getByRole("button", { name: "Without", exact: true }).click();
  await stepped.step(1);
  await expect(banner(page)).toBeVisible();
  expect(await row(page).boundingBox(), "nothing moves under the hand").toEqual(place);
  await expect(banner(page)).toContainText("−9.0 LU made up");
  const other = await context.newPage();
  await openDesk(other, stepped);
  await expect(banner(other)).toContainText("−9.0 LU made up");
  expect(await chainOf(stepped, tone)).toEqual(before);
  await other.getByRole("button", { name: "With it again" }).click();
  await expect(banner(other)).toBeHidden();
  await expect(banner(page)).toBeHidden();
  await expect(page.getByRole("radio", { name: "For me alone" })).toBeChecked();
  expect(await compared(stepped)).toBeNull();
});

test("what is compared on air ends with the room, with the chain that is turned, and with the window", async ({
  page,
  context,
  stepped,
}) => {
  const tone = await onTone(page, stepped);
  const without = async (on: Page) => {
    await on.getByRole("radio", { name: "On air" }).click();
    await row(on).getByRole("button", { name: "Without", exact: true }).click();
    await stepped.step(1);
    await expect(banner(on)).toBeVisible();
  };
  await without(page);
  await page.getByRole("link", { name: "Desk" }).click();
  await expect.poll(() => compared(stepped)).toBeNull();
  await expect(banner(page)).toBeHidden();

  await page.goBack();
  await without(page);
  const [utility] = await chainOf(stepped, tone);
  await stepped.send("PATCH", `/api/shows/LIVE/sources/${tone}/chain/${utility?.id}`, { values: { gain: -3 } });
  await stepped.step(0.1);
  await expect(banner(page)).toBeHidden();
  await expect(row(page).getByRole("button", { name: "With", exact: true })).toHaveAttribute("aria-pressed", "true");

  const other = await context.newPage();
  await openDesk(other, stepped);
  await other.goto(page.url());
  await without(other);
  await other.close();
  await expect.poll(() => compared(stepped)).toBeNull();
});

test("one processor is compared on air with the keyboard alone; what only one person can hear is not offered there", async ({
  page,
  stepped,
}) => {
  const tone = await onTone(page, stepped);
  await page.getByRole("radio", { name: "For me alone" }).focus();
  await page.keyboard.press("ArrowRight");
  await expect(page.getByRole("radio", { name: "On air" })).toBeFocused();
  await page.keyboard.press("Space");
  await expect(page.getByRole("radio", { name: "On air" })).toBeChecked();
  const utility = page.getByRole("group", { name: "Let all hear Utility" });
  await expect(utility.getByRole("button")).toHaveCount(2);
  await utility.getByRole("button", { name: "Without it" }).focus();
  await page.keyboard.press("Enter");
  await page.keyboard.press("w");
  await stepped.step(1);
  await expect(utility.getByRole("button", { name: "Without it" })).toHaveAttribute("aria-pressed", "true");
  const [first] = await chainOf(stepped, tone);
  await expect.poll(() => compared(stepped)).toMatchObject({ processor: first?.id, isWithout: true });
  await utility.getByRole("button", { name: "With it", exact: true }).focus();
  await page.keyboard.press("Enter");
  await expect.poll(async () => (await compared(stepped))?.isWithout).toBe(false);
});
