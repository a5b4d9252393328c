import { expect, marker, openDesk, stored, test } from "./support/fixtures.ts";

test("the name and the number beside a marker are part of it: taken hold of, and pressed", async ({
  page,
  stepped,
}) => {
  await openDesk(page, stepped);
  const sign = marker(page, "Guest call", "Viewers");
  const before = Number(await sign.getAttribute("aria-valuenow"));
  // Before anything is opened: an inspector makes the desk narrower, and its markers move once more after that.
  const name = await sign.getByText("Guest call").boundingBox();
  if (!name) throw new Error("The name is not there.");
  await page.mouse.move(name.x + 10, name.y + name.height / 2);
  await page.mouse.down();
  await page.mouse.move(name.x - 60, name.y + name.height / 2, { steps: 5 });
  await page.mouse.up();
  await expect.poll(async () => Number(await sign.getAttribute("aria-valuenow"))).toBeLessThan(before - 1);
  await stored(stepped, "viewers", "guest-call", { gain: Number(await sign.getAttribute("aria-valuenow")) });
  await sign.getByText("Guest call").click();
  await expect(page.getByRole("complementary", { name: "Inspector: Guest call in Viewers" })).toBeVisible();
});

test("the first Tab leads past the bars to the screen", async ({ page, stepped }) => {
  await openDesk(page, stepped);
  await page.keyboard.press("Tab");
  const skip = page.getByRole("button", { name: "Skip to the screen" });
  await expect(skip).toBeFocused();
  await expect(skip).toBeInViewport();
  await page.keyboard.press("Enter");
  await expect(page.getByRole("main")).toBeFocused();
  await page.keyboard.press("Tab");
  expect(await page.evaluate(() => document.querySelector("main")?.contains(document.activeElement))).toBe(true);
});

test("nothing frightens while all sounds, and a loss is told with when, why and what to do", async ({
  page,
  stepped,
}) => {
  let loss: object | null = null;
  await page.route("**/api/status", async (route) => {
    const response = await route.fetch();
    await route.fulfill({ response, json: { ...(await response.json()), lateBlocks: 7, lastLoss: loss } });
  });
  await openDesk(page, stepped);
  await expect(page.getByText(/^Engine \d/)).toBeVisible();
  await expect(page.getByRole("banner")).not.toContainText(/late|lost/);
  const words = "21 ms of sound came too late for who listened. Other programs kept this computer busy.";
  loss = { at: new Date().toISOString(), milliseconds: 21, reason: "ComputerBusy", words };
  await page.reload();
  const told = page.getByRole("status").filter({ hasText: "Sound was lost at" });
  await expect(told).toBeVisible();
  await told.focus();
  await expect(page.getByRole("tooltip")).toContainText("Other programs kept this computer busy");
  if (process.env.SHOT) await page.screenshot({ path: "/tmp/loss.png" });
});
