import { expect, openDesk, test } from "./support/fixtures.ts";

test("keys of one letter can be chosen, and switched off; both are kept over a reload", async ({ page, stepped }) => {
  await openDesk(page, stepped);
  const hushed = async () => ((await stepped.get("/api/status")) as { hushed: boolean }).hushed;
  const open = () => page.keyboard.press("?");
  await open();
  const dialog = page.getByRole("dialog", { name: "All keys" });
  const key = dialog.getByRole("button", { name: /^Key of: Hush/ });
  await key.click();
  await page.keyboard.press("r");
  await expect(dialog.getByText("R does something already: Record, and end the take.")).toBeVisible();
  await page.keyboard.press("q");
  await expect(key).toHaveText("Q");
  expect(await hushed()).toBe(false);
  await page.keyboard.press("Escape");
  await expect(dialog).toBeHidden();

  await page.reload();
  await expect(page.getByRole("region", { name: "What Viewers gets" })).toBeVisible();
  await page.keyboard.press("q");
  await expect.poll(hushed).toBe(true);
  await stepped.step(0.1);
  await expect(page.getByRole("button", { name: "Hushed" })).toBeVisible();
  await page.keyboard.press("h");
  await page.keyboard.press("q");
  await expect.poll(hushed).toBe(false);
  await stepped.step(0.1);
  await expect(page.getByRole("button", { name: "Hush", exact: true })).toBeVisible();

  await open();
  await dialog.getByRole("checkbox", { name: "Keys of one character act" }).uncheck();
  await page.keyboard.press("Escape");
  await expect(dialog).toBeHidden();
  for (const letter of ["q", "r", "1", "?"]) await page.keyboard.press(letter);
  await page.evaluate(() => fetch("/api/status"));
  await stepped.step(0.1);
  expect(await stepped.get("/api/status")).toMatchObject({ hushed: false, recordingTake: null });
  await expect(dialog).toBeHidden();

  // Where they are switched off, the way to them is a button.
  await page.getByRole("button", { name: "All keys" }).click();
  await expect(dialog).toBeVisible();
  if (process.env.SHOT) await page.screenshot({ path: "/tmp/keys.png" });
});
