import { expect, marker, openDesk, sourceItem, stored, test } from "./support/fixtures.ts";
import { hearOnly, record, rms } from "./support/sound.ts";

const inspector = { name: "Inspector: Record shelf" };

test("a processor that is added and turned is heard in what is recorded, and undo takes it back", async ({
  page,
  stepped,
}) => {
  await openDesk(page, stepped);
  await hearOnly(stepped, "viewers", "record-shelf");
  const before = await record(page, stepped, 2);
  await sourceItem(page, "Record shelf").getByRole("button").first().click();
  const panel = page.getByRole("complementary", inspector);
  await panel.getByRole("button", { name: "Processor" }).click();
  await page.getByRole("menuitem", { name: "Utility" }).click();
  await panel.getByRole("button", { name: /^Utility/ }).click();
  const gain = panel.getByRole("textbox", { name: "Gain" });
  await gain.fill("−12");
  await gain.press("Enter");
  await expect(gain).toHaveValue("−12.0 dB");
  await expect(page.getByRole("button", { name: /^Undo/ })).toBeEnabled();
  await stepped.step(1);
  const after = await record(page, stepped, 2);
  expect(rms(after("Viewers").left) - rms(before("Viewers").left)).toBeLessThan(-8);
  expect(rms(after("Viewers").left) - rms(after("Record shelf").left)).toBeCloseTo(-13, 2);
  await page.keyboard.press("Control+z");
  await expect(gain).toHaveValue("0.0 dB");
});

test("a slider is moved with the keys alone, as one step, and says its value", async ({ page, stepped }) => {
  await openDesk(page, stepped);
  await stepped.send("POST", "/api/shows/LIVE/sources/record-shelf/chain", { type: "compressor" });
  await sourceItem(page, "Record shelf").getByRole("button").first().click();
  const panel = page.getByRole("complementary", inspector);
  await panel.getByRole("button", { name: /^Compressor/ }).click();
  const slider = panel.getByRole("slider", { name: "Threshold" });
  await slider.focus();
  const from = await slider.getAttribute("aria-valuetext");
  await page.keyboard.down("ArrowLeft");
  await page.keyboard.down("ArrowLeft");
  await page.keyboard.up("ArrowLeft");
  await expect(slider).not.toHaveAttribute("aria-valuetext", from ?? "");
  await expect
    .poll(async () => ((await stepped.get("/api/shows/live")) as { toUndo: { sentence: string } }).toUndo.sentence)
    .toMatch(/^Compressor on Record shelf threshold −20\.0 dB → −21\.\d dB$/);
});

test("another window sees a slider turn, and what undo brings back is seen in both", async ({
  page,
  context,
  stepped,
}) => {
  await stepped.send("POST", "/api/shows/LIVE/sources/record-shelf/chain", { type: "compressor" });
  const other = await context.newPage();
  const sliders = [];
  for (const window of [page, other]) {
    await openDesk(window, stepped);
    await sourceItem(window, "Record shelf").getByRole("button").first().click();
    await window.getByRole("button", { name: /^Compressor/ }).click();
    sliders.push(window.getByRole("slider", { name: "Ratio" }));
  }
  const [mine, theirs] = sliders as [(typeof sliders)[0], (typeof sliders)[0]];
  await expect(theirs).toHaveAttribute("aria-valuetext", "3.0:1");
  await mine.focus();
  await page.keyboard.down("ArrowRight");
  const turned = (await mine.getAttribute("aria-valuetext")) ?? "";
  expect(turned).not.toBe("3.0:1");
  await expect(theirs).toHaveAttribute("aria-valuetext", turned);
  await page.keyboard.up("ArrowRight");
  await page.keyboard.press("Control+z");
  for (const slider of [mine, theirs]) await expect(slider).toHaveAttribute("aria-valuetext", "3.0:1");
});

test("a ducker on a send is set up with one press, and shows by how much it ducks", async ({ page, stepped }) => {
  await openDesk(page, stepped);
  await marker(page, "Record shelf", "Viewers").click();
  const panel = page.getByRole("complementary", { name: "Inspector: Record shelf in Viewers" });
  await panel.getByRole("button", { name: "Duck under the microphones" }).click();
  await expect(panel.getByRole("button", { name: /Host mic, Sea mic/ })).toBeVisible();
  await expect
    .poll(async () => {
      await stepped.step(0.5);
      return panel.getByRole("button", { name: /^Ducker/ }).innerText();
    })
    .toContain("−12.0 dB");
  await stored(stepped, "viewers", "record-shelf", { heard: true });
});

test("a preset says what it does before it is taken", async ({ page, stepped }) => {
  await openDesk(page, stepped);
  await page.getByRole("button", { name: "Viewers", exact: true }).click();
  const panel = page.getByRole("complementary", { name: "Inspector: Viewers" });
  await panel.getByRole("button", { name: "Preset" }).click();
  await expect(page.getByText("stops at −1 dBTP what is not")).toBeVisible();
  await page.getByRole("menuitem", { name: /Mix safety/ }).click();
  await expect(panel.getByRole("button", { name: /^Limiter/ })).toBeVisible();
  await stepped.step(0.5);
  await expect(panel.getByText(/^adds 8\.\d ms$/)).toBeVisible();
});
