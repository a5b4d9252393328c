import { readFileSync } from "node:fs";
import type { Page } from "@playwright/test";
import { expect, marker, openDesk, sourceItem, stored, test } from "./support/fixtures.ts";
import type { Server } from "./support/server.ts";

const more = [
  "Kettle",
  "Rain on the roof",
  "Harbour bell",
  "Second voice",
  "Night ferry",
  "Clock",
  "Footsteps",
  "Fog horn of the outer skerry",
];

/** Fourteen sources in four lanes, all heard by everybody. */
async function crowd(server: Server) {
  const sound = readFileSync(new URL("../../src/Kinetra.Gear/Voices/crew.flac", import.meta.url));
  for (const name of more) {
    const form = new FormData();
    form.set("file", new Blob([sound]), `${name}.flac`);
    await server.sendForm("/api/shows/LIVE/sources", form);
  }
  await server.send("POST", "/api/shows/LIVE/mixes", { name: "Late reader", purpose: "Other", copyOf: "viewers" });
  const show = (await server.get("/api/shows/live")) as {
    sources: { id: string; look: { color: number; shape: number } }[];
    mixes: { id: string }[];
  };
  const looks = show.sources.map((s) => `${s.look.color}/${s.look.shape}`);
  expect(new Set(looks).size).toBe(show.sources.length);
  for (const mix of show.mixes)
    for (const source of show.sources)
      await server.send("PATCH", `/api/shows/LIVE/mixes/${mix.id}/sends/${source.id}`, { heard: true });
  return show;
}

const focusedName = (page: Page) =>
  page.evaluate(() => document.activeElement?.getAttribute("aria-label") ?? document.activeElement?.textContent);

test("fourteen sources in four lanes fit the screen, each name readable; a fifth and a sixth lane fold to one line", async ({
  page,
  stepped,
}) => {
  const show = await crowd(stepped);
  await openDesk(page, stepped);
  const lanes = page.getByRole("region", { name: "Lanes" });
  await expect(page.getByRole("slider")).toHaveCount(show.sources.length * 4);
  await stepped.step(5);
  await expect.poll(() => lanes.evaluate((e) => e.scrollHeight - e.clientHeight)).toBeLessThanOrEqual(0);
  const sizes = await page
    .getByRole("slider")
    .locator("span.truncate")
    .evaluateAll((names) => names.map((n) => Number.parseFloat(getComputedStyle(n).fontSize)));
  expect(Math.min(...sizes)).toBeGreaterThanOrEqual(11);
  if (process.env.SHOT) await page.screenshot({ path: "/tmp/lanes14.png" });

  for (const name of ["Quay", "Attic"])
    await stepped.send("POST", "/api/shows/LIVE/mixes", { name, purpose: "Other", copyOf: "viewers" });
  const attic = page.getByRole("region", { name: "What Attic gets" });
  await expect(attic.getByRole("button", { name: "Attic with a row for each source" })).toHaveAttribute(
    "aria-expanded",
    "false",
  );
  await stepped.step(1);
  await expect.poll(() => lanes.evaluate((e) => e.scrollHeight - e.clientHeight)).toBeLessThanOrEqual(0);
  if (process.env.SHOT) await page.screenshot({ path: "/tmp/lanes6.png" });

  // In a folded lane everything can still be done.
  const kettle = marker(page, "Kettle", "Attic");
  await kettle.focus();
  await page.keyboard.press("0");
  await page.keyboard.press("PageUp");
  const { mix = "", source = "" } = await kettle.evaluate((e) => ({ ...(e as HTMLElement).dataset }));
  await stored(stepped, mix, source, { gain: 3 });
  await attic.getByRole("button", { name: "Attic with a row for each source" }).click();
  await expect(attic.getByRole("button", { name: "Attic with a row for each source" })).toHaveAttribute(
    "aria-expanded",
    "true",
  );
  await expect.poll(() => lanes.evaluate((e) => e.scrollHeight - e.clientHeight)).toBeLessThanOrEqual(0);
});

test("a lane is one Tab stop and so is the list of sources; arrows go through what is in them", async ({
  page,
  stepped,
}) => {
  await openDesk(page, stepped);
  await marker(page, "Sea mic", "Viewers").focus();
  await page.keyboard.press("ArrowDown");
  const below = await focusedName(page);
  expect(below).toContain("in Viewers");
  expect(below).not.toContain("Sea mic");
  await page.keyboard.press("ArrowUp");
  expect(await focusedName(page)).toBe("Sea mic in Viewers");
  // From each lane the next Tab leads out of it.
  await marker(page, "Sea mic", "Viewers").focus();
  await page.keyboard.press("Tab");
  expect(await page.evaluate(() => document.activeElement?.closest("[data-mix]")?.getAttribute("data-mix"))).not.toBe(
    "viewers",
  );
  await page.keyboard.press("Shift+Tab");
  expect(await focusedName(page)).toBe("Sea mic in Viewers");

  const first = sourceItem(page, "Skerry Keeper").getByRole("button", { name: "Skerry Keeper", exact: true });
  await first.focus();
  await page.keyboard.press("ArrowRight");
  expect(await focusedName(page)).toMatch(/Skerry Keeper/);
  await page.keyboard.press("ArrowDown");
  expect(await focusedName(page)).not.toMatch(/Skerry Keeper/);
});
