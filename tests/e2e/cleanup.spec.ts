import { expect, openDesk, test } from "./support/fixtures.ts";
import { addFile, noise, writeWav } from "./support/sound.ts";

interface Loop {
  id: string;
  variants: { name: string; chain: { type: string; values: Record<string, number> }[] }[];
}

test("silence, then reading: what hums is found with its reason, a step can be refused, and the rest is heard on the bench before anything is applied", async ({
  page,
  stepped,
}, info) => {
  // Hum all the time; after five seconds bursts of noise over it, a voice as far as levels go.
  const draw = noise(7);
  const file = info.outputPath("speaker.wav");
  writeWav(file, 26, (n, channel) => {
    const hum = 0.004 * Math.sin((2 * Math.PI * 50 * n) / 48_000) + 0.002 * Math.sin((2 * Math.PI * 150 * n) / 48_000);
    const spoken = n > 6 * 48_000 && Math.floor(n / 9_600) % 5 !== 4 && channel === 0;
    return hum + (spoken ? 0.02 * draw() : 0);
  });
  const source = await addFile(stepped, file);
  await openDesk(page, stepped);
  await page.goto(`${stepped.url}/voice?at=source/${source}`);
  await page.getByRole("button", { name: "Clean up", exact: true }).click();
  const dialog = page.getByRole("dialog");
  await dialog.getByRole("button", { name: "I am silent" }).click();
  await expect(dialog.getByText("Listening to your room …")).toBeVisible();
  await expect
    .poll(async () => {
      await stepped.step(0.5);
      return dialog.getByRole("button", { name: "I begin to read" }).isVisible();
    })
    .toBe(true);
  await stepped.step(1);
  await dialog.getByRole("button", { name: "I begin to read" }).click();
  await expect(dialog.getByRole("button", { name: "I have read it" })).toBeDisabled();
  for (let i = 0; i < 8; i++) await stepped.step(1);
  await dialog.getByRole("button", { name: "I have read it" }).click();
  const proposed = dialog.getByRole("list", { name: "What is proposed" });
  await expect(proposed.getByText(/The mains hum at 50 Hz/)).toBeVisible();
  const show = async () =>
    (await stepped.get("/api/shows/live")) as { sources: { id: string; chain: { type: string }[] }[] };
  expect((await show()).sources.find((s) => s.id === source)?.chain).toEqual([]);
  for (const box of await proposed.getByRole("checkbox").all()) await box.uncheck();
  await expect(dialog.getByRole("button", { name: "Hear it on the bench" })).toBeDisabled();
  await proposed.getByRole("listitem").filter({ hasText: "Mains hum" }).getByRole("checkbox").check();
  await dialog.getByRole("button", { name: "Hear it on the bench" }).click();
  await expect(page.getByRole("button", { name: /Cleaned up$/ })).toBeVisible();
  const [loop] = (await stepped.get("/api/shows/LIVE/loops")) as Loop[];
  expect(loop?.variants.at(-1)?.chain.map((p) => [p.type, p.values.hum])).toEqual([["utility", 1]]);
  expect((await show()).sources.find((s) => s.id === source)?.chain).toEqual([]);
});

test("what nobody wants to hear is not kept, and too little of it is refused with words", async ({ page, stepped }) => {
  await openDesk(page, stepped);
  await page.goto(`${stepped.url}/voice?at=source/record-shelf`);
  await stepped.step(2);
  await page.getByRole("button", { name: "Clean up", exact: true }).click();
  const dialog = page.getByRole("dialog");
  await dialog.getByRole("button", { name: "I am silent" }).click();
  await expect
    .poll(async () => {
      await stepped.step(0.5);
      return dialog.getByRole("button", { name: "I begin to read" }).isVisible();
    })
    .toBe(true);
  await dialog.getByRole("button", { name: "I begin to read" }).click();
  await expect
    .poll(async () => {
      await stepped.step(1);
      return dialog.getByRole("button", { name: "Once more" }).isVisible();
    })
    .toBe(true);
  await page.keyboard.press("Escape");
  await expect(dialog).toBeHidden();
  await expect.poll(async () => ((await stepped.get("/api/shows/LIVE/loops")) as Loop[]).length).toBe(0);
});
