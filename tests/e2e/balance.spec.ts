import { join } from "node:path";
import { dragBy, expect, grab, marker, openDesk, stored, test } from "./support/fixtures.ts";
import { addTone, decode, hearOnly, noise, record, rms, writeWav } from "./support/sound.ts";

test("dragging a marker down 6 dB halves that source in what is recorded", async ({ page, stepped }) => {
  await hearOnly(stepped, "viewers", "record-shelf");
  await openDesk(page, stepped);
  const before = await record(page, stepped, 2);
  await dragBy(page, "Record shelf", "Viewers", -6);
  await expect(marker(page, "Record shelf", "Viewers")).toHaveAttribute("aria-valuenow", "-19");
  await stored(stepped, "viewers", "record-shelf", { gain: -19 });
  await stepped.step(0.1);
  const after = await record(page, stepped, 2);

  // The send is what the mix holds of the source, in each of both takes.
  for (const [take, gain] of [
    [before, -13],
    [after, -19],
  ] as const) {
    const source = take("Record shelf");
    const mix = take("Viewers");
    expect(rms(mix.left) - rms(source.left)).toBeCloseTo(gain, 2);
    expect(rms(mix.right) - rms(source.right)).toBeCloseTo(gain, 2);
  }
});

test("keys pressed there and back faster than the server answers end where they began", async ({ page, stepped }) => {
  await openDesk(page, stepped);
  const sign = marker(page, "Sea mic", "Viewers");
  const before = Number(await sign.getAttribute("aria-valuenow"));
  let answerNow = () => {};
  const pressedBack = new Promise<void>((done) => {
    answerNow = done;
  });
  await page.route(/mixes\/viewers\/sends\/sea-mic\?/, async (route) => {
    await pressedBack;
    await route.continue();
  });
  let answers = 0;
  page.on("response", (r) => {
    if (r.request().method() === "PATCH") answers++;
  });
  await sign.press("ArrowRight");
  await sign.press("ArrowLeft");
  answerNow();
  await expect.poll(() => answers).toBe(2);
  await stored(stepped, "viewers", "sea-mic", { gain: before });
  await expect(sign).toHaveAttribute("aria-valuenow", String(before));
});

test("an answer that comes late takes nothing back that was done after it", async ({ page, stepped }) => {
  await openDesk(page, stepped);
  const sign = marker(page, "Sea mic", "Viewers");
  await sign.press("Enter");
  const field = page.getByRole("textbox", { name: "Send" });
  await expect(field).toBeVisible();
  let answerNow = () => {};
  const looked = new Promise<void>((done) => {
    answerNow = done;
  });
  let asked = 0;
  await page.route(/mixes\/viewers\/sends\/sea-mic\?/, async (route) => {
    if (++asked > 1) await looked;
    await route.continue();
  });
  const first = page.waitForResponse((r) => r.request().method() === "PATCH");
  await sign.press("Home");
  await sign.press("PageUp");
  await (await first).finished();
  await page.evaluate(() => new Promise((done) => requestAnimationFrame(() => requestAnimationFrame(done))));
  await expect(sign).toHaveAttribute("aria-valuenow", "-57", { timeout: 1 });
  await expect(field).toHaveValue("−57.0 dB", { timeout: 1 });
  answerNow();
  await stored(stepped, "viewers", "sea-mic", { gain: -57 });
});

test("ten quick taps are ten steps, however late the answers come", async ({ page, stepped }) => {
  await openDesk(page, stepped);
  const sign = marker(page, "Sea mic", "Viewers");
  const before = Number(await sign.getAttribute("aria-valuenow"));
  const waiting: (() => void)[] = [];
  let isLate = true;
  await page.route(/mixes\/viewers\/sends\/sea-mic\?/, async (route) => {
    if (isLate) await new Promise<void>((done) => waiting.push(done));
    await route.continue();
  });
  for (let tap = 1; tap <= 10; tap++) {
    await sign.press("ArrowRight");
    await expect(sign).toHaveAttribute("aria-valuenow", String(before + tap / 2));

    // Every third tap an older one is answered.
    if (tap % 3 === 0) {
      await expect.poll(() => waiting.length).toBe(1);
      const answered = page.waitForResponse((r) => r.request().method() === "PATCH");
      waiting.shift()?.();
      await (await answered).finished();
    }
  }
  isLate = false;
  for (const done of waiting.splice(0)) done();
  await stored(stepped, "viewers", "sea-mic", { gain: before + 5 });
  await expect(sign).toHaveAttribute("aria-valuenow", String(before + 5));
});

test("what is typed replaces a value that changed under the hand", async ({ page, stepped }) => {
  await openDesk(page, stepped);
  await marker(page, "Sea mic", "Viewers").press("Enter");
  const field = page.getByRole("textbox", { name: "Send" });
  await field.focus();
  await stepped.send("PATCH", `/api/shows/LIVE/mixes/viewers/sends/sea-mic`, { gain: -20 });
  await expect(field).toHaveValue("−20.0 dB");
  await page.keyboard.type("-4,5");
  await page.keyboard.press("Enter");
  await stored(stepped, "viewers", "sea-mic", { gain: -4.5 });
});

test("the loudness that is shown is measured after the change", async ({ page, stepped }) => {
  // 1 kHz at −20 dBFS in both channels reads −20.0 LUFS.
  const id = await addTone(stepped);
  await hearOnly(stepped, "viewers", id);
  await openDesk(page, stepped);
  const head = page.getByRole("region", { name: "What Viewers gets" });
  const shown = async () => Number(/(−?[\d.]+)\s*LUFS/.exec(await head.innerText())?.[1]?.replace("−", "-"));
  await stepped.step(4);
  await expect.poll(shown).toBeCloseTo(-20, 1);
  await dragBy(page, "steady", "Viewers", -12);
  await stored(stepped, "viewers", id, { gain: -12 });
  await stepped.step(4);
  await expect.poll(shown).toBeCloseTo(-32, 1);
});

test("a docked source leaves nothing of itself in that mix, and comes back where it was", async ({ page, stepped }) => {
  await hearOnly(stepped, "viewers", "skerry-keeper");
  await openDesk(page, stepped);
  const source = marker(page, "Skerry Keeper", "Viewers");
  const dock = await page.getByRole("region", { name: "What Viewers gets" }).getByText("does not hear").boundingBox();
  if (!dock) throw new Error("The dock is not in sight.");
  await grab(page, "Skerry Keeper", "Viewers");
  await page.mouse.move(dock.x + 20, dock.y + 30, { steps: 10 });
  await page.mouse.up();
  await expect(source).toHaveCount(0);
  await stored(stepped, "viewers", "skerry-keeper", { heard: false });
  await stepped.step(0.1);
  const silent = await record(page, stepped, 1);
  expect(silent("Viewers").left.every((x) => x === 0)).toBe(true);
  expect(silent("Viewers").right.every((x) => x === 0)).toBe(true);
  expect(rms(silent("Skerry Keeper").left)).toBeGreaterThan(-60);

  await page.getByRole("button", { name: "Let Viewers hear Skerry Keeper" }).click();
  await expect(source).toHaveAttribute("aria-valuenow", "-6");
  await stored(stepped, "viewers", "skerry-keeper", { heard: true, gain: -6 });
  await stepped.step(0.1);
  const back = await record(page, stepped, 1);
  expect(rms(back("Viewers").left) - rms(back("Skerry Keeper").left)).toBeCloseTo(-6, 2);
});

test("Crew talk never stands in Viewers: what is there is the sum of the others and nothing else", async ({
  page,
  stepped,
}) => {
  await openDesk(page, stepped);
  const take = await record(page, stepped, 20);
  const show = (await stepped.get("/api/shows/live")) as {
    sources: { id: string; name: string }[];
    mixes: { name: string; sends: { source: string; gain: number; heard: boolean }[] }[];
  };
  const residual = Float64Array.from(take("Viewers").left);
  for (const send of show.mixes.find((m) => m.name === "Viewers")?.sends ?? []) {
    const source = show.sources.find((s) => s.id === send.source);
    if (!send.heard || !source) continue;
    const mono = !["Skerry Keeper", "Record shelf"].includes(source.name);
    const factor = 10 ** (send.gain / 20) * (mono ? Math.SQRT1_2 : 1);
    take(source.name).left.forEach((x, n) => {
      residual[n] = (residual[n] ?? 0) - x * factor;
    });
  }
  // What is left is the rounding of the files to 24 bits.
  expect(rms(residual)).toBeLessThan(-130);
  expect(rms(take("Crew talk").left)).toBeGreaterThan(-60);
});

test("an uploaded file arrives in the mix sample for sample at the gain that is set", async ({ page, stepped }) => {
  const path = join(stepped.data, "our noise.wav");
  const left = noise(1);
  const right = noise(2);
  writeWav(path, 1.5, (_, channel) => 0.5 * (channel === 0 ? left() : right()));
  await openDesk(page, stepped);
  await page.getByRole("button", { name: "Add a sound" }).click();
  await page.getByLabel("Choose a sound file").setInputFiles(path);
  await expect(page.getByRole("textbox", { name: "Name" })).toHaveValue("our noise");
  await page.getByRole("radio", { name: "Once" }).click();
  await page.getByRole("button", { name: "Add it" }).click();
  await expect(marker(page, "our noise", "Viewers")).toBeVisible();
  const show = (await stepped.get("/api/shows/live")) as { sources: { id: string; name: string }[] };
  const id = show.sources.find((s) => s.name === "our noise")?.id ?? "";
  await hearOnly(stepped, "viewers", id);
  await stepped.step(2);
  const ours = decode(path);

  for (const [gain, allowed] of [
    [0, 0],
    [-6, 1],
  ] as const) {
    await stepped.send("PATCH", `/api/shows/LIVE/mixes/viewers/sends/${id}`, { gain });
    await stepped.step(0.1);
    const played = page.waitForResponse((response) => response.url().endsWith(`${id}/play`));
    await page.getByRole("button", { name: "Play our noise from the beginning" }).click();
    await played;
    const take = await record(page, stepped, 2);
    const mix = take("Viewers");
    const start = take("our noise").left.findIndex((x) => x !== 0);
    const first = ours.left.findIndex((x) => x !== 0);
    const factor = 10 ** (gain / 20);
    let worst = 0;
    for (let n = first; n < ours.left.length; n++) {
      const at = start - first + n;
      worst = Math.max(
        worst,
        Math.abs((mix.left[at] ?? 0) - (ours.left[n] ?? 0) * factor),
        Math.abs((mix.right[at] ?? 0) - (ours.right[n] ?? 0) * factor),
      );
    }
    // In steps of 24 bits.
    expect(worst).toBeLessThanOrEqual(allowed);
  }
});
