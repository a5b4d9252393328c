import { browserArgs, microphoneArgs } from "./support/browser.ts";
import { expect, openDesk, test } from "./support/fixtures.ts";

test.use({
  launchOptions: { executablePath: "/usr/bin/chromium", args: [...browserArgs, ...microphoneArgs("deny")] },
});

test("where the person says no, the picker says what to do, and nothing else changes", async ({ page, stepped }) => {
  await openDesk(page, stepped);
  await page.getByRole("button", { name: "Add a microphone" }).click();
  await expect(page.getByRole("alert")).toContainText("This browser was told not to give microphones to Kinetra.");
  await page.getByRole("button", { name: "Look again" }).click();
  await expect(page.getByRole("alert")).toBeVisible();
  await page.getByRole("button", { name: "Cancel" }).click();
  await expect(page.getByRole("slider")).toHaveCount(13);
});
