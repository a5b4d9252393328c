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
  const looked = dialog.getByRole("region", { name: "What was looked at" });
  await expect(looked.getByRole("listitem")).toHaveCount(13);
  await expect(looked.getByRole("listitem").filter({ hasText: "Mains hum" })).toContainText("not in order");
  await expect(looked.getByRole("img")).toBeVisible();
  const show = async () =>
    (await stepped.get("/api/shows/live")) as { sources: { id: string; chain: { type: string }[] }[] };
  expect((await show()).sources.find((s) => s.id === source)?.chain).toEqual([]);
  for (const box of await proposed.getByRole("checkbox").all()) await box.uncheck();
  await expect(dialog.getByRole("button", { name: "Hear it on the bench" })).toBeDisabled();
  await proposed.getByRole("listitem").filter({ hasText: "Mains hum" }).getByRole("checkbox").check();
  await dialog.getByRole("button", { name: "Hear it on the bench" }).click();
  await expect(page.getByRole("button", { name: "Cleaned up", exact: true })).toBeVisible();
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
  await dialog.getByRole("radio", { name: "A voice here" }).click();
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

test("a bed that covers the words is ducked by those who speak, heard with them on the bench, and put on air as one step", async ({
  page,
  stepped,
}, info) => {
  const draw = noise(3);
  const [voice, bed] = [info.outputPath("talker.wav"), info.outputPath("bed.wav")];
  writeWav(voice, 24, (n) => (Math.floor(n / 9_600) % 5 !== 4 ? 0.1 * draw() : 0));
  writeWav(bed, 24, () => 0.09 * draw());
  const talker = await addFile(stepped, voice);
  const music = await addFile(stepped, bed);
  for (let i = 0; i < 14; i++) await stepped.step(1);
  await openDesk(page, stepped);
  await page.goto(`${stepped.url}/voice?at=source/${music}`);
  await page.getByRole("button", { name: "Clean up", exact: true }).click();
  const dialog = page.getByRole("dialog");
  await dialog.getByRole("radio", { name: "A bed under speech" }).click();
  for (const box of await dialog.getByRole("checkbox").all()) await box.uncheck();
  const look = dialog.getByRole("button", { name: "Look at the last 20 seconds" });
  await expect(look).toBeDisabled();
  await dialog.getByRole("checkbox", { name: "talker" }).check();
  await look.dblclick();
  const proposed = dialog.getByRole("list", { name: "What is proposed" });
  await expect(proposed.getByText(/Duck \d+ dB under speech, back in 600 ms/)).toBeVisible();
  await dialog.getByRole("button", { name: "Hear it on the bench" }).click();
  await expect(page.getByText("on the bench, with talker beside it")).toBeVisible();
  await page.getByRole("button", { name: "Put “Cleaned up” on air" }).click();
  const chain = async () =>
    (
      (await stepped.get("/api/shows/live")) as { sources: { id: string; chain: { type: string; keys: string[] }[] }[] }
    ).sources
      .find((s) => s.id === music)
      ?.chain.map((p) => [p.type, ...p.keys]);
  await expect.poll(chain).toEqual([["ducker", `source/${talker}`]]);
  expect((await stepped.get("/api/shows/LIVE/loops")) as Loop[]).toHaveLength(1);
});

test("a caller who came too quiet is made as loud as whom they talk with, with the keyboard alone", async ({
  page,
  stepped,
}, info) => {
  const draw = noise(5);
  const [voice, line] = [info.outputPath("host.wav"), info.outputPath("line.wav")];
  writeWav(voice, 24, (n) => (Math.floor(n / 9_600) % 5 !== 4 ? 0.1 * draw() : 0));
  writeWav(line, 24, (n) => (Math.floor(n / 9_600) % 5 !== 3 ? 0.01 * draw() : 0));
  await addFile(stepped, voice);
  const caller = await addFile(stepped, line);
  for (let i = 0; i < 14; i++) await stepped.step(1);
  await openDesk(page, stepped);
  await page.goto(`${stepped.url}/voice?at=source/${caller}`);
  await page.getByRole("button", { name: "Clean up", exact: true }).focus();
  await page.keyboard.press("Enter");
  const dialog = page.getByRole("dialog");
  await dialog.getByRole("radio", { name: "Somebody who calls" }).focus();
  await page.keyboard.press("Space");
  await dialog.getByRole("button", { name: /^As loud as/ }).focus();
  await page.keyboard.press("Enter");
  await page.getByRole("menuitem", { name: "host", exact: true }).focus();
  await page.keyboard.press("Enter");
  await expect(dialog.getByRole("button", { name: "As loud as: host" })).toBeFocused();
  await dialog.getByRole("button", { name: "Look at the last 20 seconds" }).focus();
  await page.keyboard.press("Enter");
  await expect(dialog.getByText(/\+20 dB brings them there/)).toBeVisible();
  await dialog.getByRole("button", { name: "Hear it on the bench" }).focus();
  await page.keyboard.press("Enter");
  await expect(page.getByRole("button", { name: "Cleaned up", exact: true })).toBeVisible();
});
