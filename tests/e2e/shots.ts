import { resolve } from "node:path";
import type { Page } from "@playwright/test";
import { expect, marker, openDesk, test } from "./support/fixtures.ts";
import { record } from "./support/sound.ts";

const folder = resolve(import.meta.dirname, "../../docs/screenshots");

async function shoot(page: Page, name: string) {
  await page.mouse.move(640, 30);
  await page.evaluate(() => document.fonts.ready);
  await expect(page.getByText(/^Engine \d/).or(page.locator("nav"))).not.toHaveCount(0);
  // Two pictures of the screen later, all that is drawn rather than laid out is drawn.
  await page.evaluate(() => new Promise((done) => requestAnimationFrame(() => requestAnimationFrame(done))));
  await page.screenshot({ path: resolve(folder, `${name}.png`) });
}

for (const theme of ["dark", "light"] as const) {
  test(`the Desk, ${theme}`, async ({ page, stepped }) => {
    await page.emulateMedia({ colorScheme: theme });
    await openDesk(page, stepped);
    await stepped.step(13.5);
    await page.evaluate(() => new Promise((done) => setTimeout(done, 700)));
    await shoot(page, `desk-${theme}`);
  });
}

test("a send's numbers, the table, a phone, and takes", async ({ page, stepped }) => {
  await openDesk(page, stepped);
  await stepped.step(13.5);
  await marker(page, "Skerry Keeper", "Viewers").click();
  await page.evaluate(() => new Promise((done) => setTimeout(done, 700)));
  await shoot(page, "desk-inspector");
  await page.getByRole("button", { name: "Close the inspector" }).click();
  await page.getByRole("radio", { name: "Table" }).click();
  await shoot(page, "desk-table");
  await page.getByRole("radio", { name: "Lanes" }).click();
  await page.setViewportSize({ width: 390, height: 844 });
  await shoot(page, "desk-phone");
  await page.setViewportSize({ width: 1280, height: 800 });
  await page.emulateMedia({ colorScheme: "light" });
  await record(page, stepped, 42);
  await page.getByRole("link", { name: "Takes" }).click();
  await expect(page.getByRole("heading", { name: "Takes", exact: true })).toBeVisible();
  await shoot(page, "takes");
});
