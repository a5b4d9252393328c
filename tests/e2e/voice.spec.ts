import type { Page } from "@playwright/test";
import { expect, openDesk, test } from "./support/fixtures.ts";
import type { Server } from "./support/server.ts";
import { addFile, addTone, noise, record, rms, writeWav } from "./support/sound.ts";

interface Chained {
  id: string;
  type: string;
  bypassed: boolean;
  values: Record<string, number>;
}

async function chainOf(server: Server, source: string): Promise<Chained[]> {
  const show = (await server.get("/api/shows/live")) as { sources: { id: string; chain: Chained[] }[] };
  return show.sources.find((s) => s.id === source)?.chain ?? [];
}

const types = (server: Server, source: string) => async () => (await chainOf(server, source)).map((p) => p.type);

async function add(server: Server, source: string, ...wanted: string[]) {
  for (const type of wanted) await server.send("POST", `/api/shows/LIVE/sources/${source}/chain`, { type });
}

/** Opens the workshop on a source. */
async function openVoice(page: Page, server: Server, source: string, name: string) {
  await openDesk(page, server);
  await page.goto(`${server.url}/voice?at=source/${source}`);
  await expect(page.getByRole("button", { name: `Whose chain: ${name}` })).toBeVisible();
}

/** A processor on the track. */
const station = (page: Page, name: string) =>
  page.getByRole("region", { name: "The chain" }).getByRole("button", { name, exact: true });

const shelf = "record-shelf";

test("a chain is put in another order by dragging and with the keys, each one step of undo", async ({
  page,
  stepped,
}) => {
  await add(stepped, shelf, "lowCut", "gate", "compressor");
  await openVoice(page, stepped, shelf, "Record shelf");
  const order = types(stepped, shelf);
  const [from, to] = [await station(page, "Low cut").boundingBox(), await station(page, "Compressor").boundingBox()];
  if (!from || !to) throw new Error("There are no stations.");
  await page.mouse.move(from.x + 20, from.y + 8);
  await page.mouse.down();
  await page.mouse.move(from.x + 80, from.y + 8, { steps: 4 });
  await page.mouse.move(to.x + to.width + 20, from.y + 8, { steps: 8 });
  await page.mouse.up();
  await expect.poll(order).toEqual(["gate", "compressor", "lowCut"]);
  await page.keyboard.press("Control+z");
  await expect.poll(order).toEqual(["lowCut", "gate", "compressor"]);

  // The server has it before it is drawn here.
  const drawn = page.getByRole("region", { name: "The chain" }).locator("[data-station]");
  await expect(drawn).toHaveText([/Low cut/, /Gate/, /Compressor/]);
  await station(page, "Compressor").focus();
  await page.keyboard.press("Shift+ArrowLeft");
  await expect.poll(order).toEqual(["lowCut", "compressor", "gate"]);
  await expect(station(page, "Compressor")).toBeFocused();
  await page.keyboard.press("Control+z");
  await expect.poll(order).toEqual(["lowCut", "gate", "compressor"]);
});

test("quick hands under a slow answer: two presses move it by two places, and what is added is added once", async ({
  page,
  stepped,
}) => {
  await add(stepped, shelf, "lowCut", "gate", "compressor");
  await openVoice(page, stepped, shelf, "Record shelf");
  const held: (() => void)[] = [];
  await page.route(/chain/, async (route) => {
    if (route.request().method() === "GET" || route.request().url().includes("curve")) return route.continue();
    await new Promise<void>((go) => held.push(go));
    await route.continue();
  });
  await station(page, "Low cut").focus();
  await page.keyboard.press("Shift+ArrowRight");
  await page.keyboard.press("Shift+ArrowRight");
  await page.keyboard.press("Shift+ArrowRight");
  for (let i = 0; i < 2; i++) {
    await expect.poll(() => held.length).toBe(1);
    held.pop()?.();
  }
  await expect.poll(types(stepped, shelf)).toEqual(["gate", "compressor", "lowCut"]);
  await page.getByRole("button", { name: "Add", exact: true }).click();
  await page.getByRole("menuitem", { name: /^Limiter/ }).click();
  await expect(page.getByRole("button", { name: "Add", exact: true })).toHaveAttribute("aria-disabled", "true");
  await expect.poll(() => held.length).toBe(1);
  held.pop()?.();
  await expect.poll(types(stepped, shelf)).toEqual(["gate", "compressor", "lowCut", "limiter"]);
  await expect(page.getByRole("heading", { name: "Limiter", exact: true })).toBeVisible();
  // Taken out once, however often the key comes.
  await station(page, "Limiter").focus();
  for (let i = 0; i < 3; i++) await page.keyboard.press("Delete");
  await expect.poll(() => held.length).toBe(1);
  held.pop()?.();
  await expect.poll(types(stepped, shelf)).toEqual(["gate", "compressor", "lowCut"]);
  await page.evaluate(() => new Promise((done) => requestAnimationFrame(() => requestAnimationFrame(done))));
  expect(held).toHaveLength(0);
  await expect(page.locator("[data-notice]")).toHaveCount(0);
});

test("a band that is dragged is one step, and what is drawn of it is what is recorded", async ({ page, stepped }) => {
  const tone = await addTone(stepped);
  await add(stepped, tone, "equaliser");
  await openVoice(page, stepped, tone, "steady");
  const before = await record(page, stepped, 1);
  const band = page.getByRole("button", { name: /^Band 2, peak/ });
  const box = await band.boundingBox();
  if (!box) throw new Error("There is no band.");
  await page.mouse.move(box.x + box.width / 2, box.y + box.height / 2);
  await page.mouse.down();
  await page.mouse.move(box.x + 118, box.y - 90, { steps: 10 });
  await page.mouse.up();
  const values = async () => (await chainOf(stepped, tone))[0]?.values ?? {};
  await expect.poll(async () => (await values()).gain2 ?? 0).toBeGreaterThan(3);
  const said = await band.getAttribute("aria-label");
  const { gain2 = 0, frequency2 = 0 } = await values();
  expect(frequency2).toBeGreaterThan(700);
  expect(said).toContain(`Gain ${gain2.toFixed(1)} dB`);
  const curve = (await stepped.send("POST", "/api/processors/equaliser/curve", { values: await values() })) as {
    response: { frequencies: number[]; decibels: number[] };
  };
  const at = curve.response.frequencies.reduce(
    (best, f, i, all) => (Math.abs(Math.log(f / 1000)) < Math.abs(Math.log((all[best] ?? 1) / 1000)) ? i : best),
    0,
  );
  await stepped.step(1);
  const after = await record(page, stepped, 1);
  const raised = rms(after("steady").left) - rms(before("steady").left);
  expect(Math.abs(raised - (curve.response.decibels[at] ?? 0))).toBeLessThan(0.25);
  await page.keyboard.press("Control+z");
  await expect.poll(async () => (await values()).gain2).toBe(0);
  await expect(band).toHaveAttribute("aria-label", /Gain 0\.0 dB/);
});

test("with the keyboard alone: to the workshop, into the chain, and a band moved, narrowed, of another kind, off, and taken back", async ({
  page,
  stepped,
}) => {
  await add(stepped, shelf, "lowCut", "equaliser");
  await openVoice(page, stepped, shelf, "Record shelf");
  await station(page, "Low cut").focus();
  for (const key of ["ArrowRight", "ArrowRight", "Enter"]) await page.keyboard.press(key);
  await expect(page.getByRole("heading", { name: "Equaliser", exact: true })).toBeVisible();
  const band = page.getByRole("button", { name: /^Band 3, peak/ });
  await band.focus();
  for (const key of ["ArrowUp", "ArrowRight", "PageUp"]) {
    await page.keyboard.down(key);
    await page.keyboard.down(key);
    await page.keyboard.up(key);
  }
  const equaliser = async () => (await chainOf(stepped, shelf))[1]?.values ?? {};
  await expect.poll(async () => (await equaliser()).q3 ?? 1).toBeGreaterThan(1.05);
  const { gain3 = 0, frequency3 = 0 } = await equaliser();
  expect(gain3).toBeGreaterThan(0.5);
  expect(frequency3).toBeGreaterThan(2500);
  // Another kind and back, off, and all of it undone.
  const kind = async () => (await equaliser()).shape3;
  await page.keyboard.press("Enter");
  await expect.poll(kind).toBe(2);
  await page.keyboard.press("Shift+Enter");
  await expect.poll(kind).toBe(1);
  await page.keyboard.press("Delete");
  await expect.poll(kind).toBe(0);
  await expect(band).toHaveCount(0);
  await page.keyboard.press("Control+z");
  await expect.poll(kind).toBe(1);
  await band.focus();
  for (let i = 0; i < 5; i++) await page.keyboard.press("Control+z");
  await expect.poll(equaliser).toMatchObject({ gain3: 0, frequency3: 2500, q3: 1 });
  await expect(band).toBeFocused();
});

test("both forms show the same state, and what is set by hand is said to be so", async ({ page, stepped }) => {
  await add(stepped, shelf, "compressor");
  await openVoice(page, stepped, shelf, "Record shelf");
  const even = page.getByRole("slider", { name: "How even" });
  await even.focus();
  await page.keyboard.press("End");
  const values = async () => (await chainOf(stepped, shelf))[0]?.values ?? {};
  await expect.poll(values).toMatchObject({ threshold: -36, ratio: 5, makeUp: 11 });
  await expect(page.getByText("about: set by hand")).toBeHidden();
  await page.getByRole("radio", { name: "In numbers" }).click();
  await expect(page.getByRole("textbox", { name: "Threshold" })).toHaveValue("−36.0 dB");
  const ratio = page.getByRole("textbox", { name: "Ratio" });
  await ratio.fill("1.5");
  // Letters typed into a field act nowhere else.
  await page.getByRole("textbox", { name: "Attack" }).pressSequentially("hr");
  await page.keyboard.press("Escape");
  await expect.poll(values).toMatchObject({ ratio: 1.5 });
  await expect(page.getByRole("button", { name: "Record", exact: true })).toBeVisible();
  expect(((await stepped.get("/api/status")) as { hushed?: boolean }).hushed ?? false).toBe(false);
  await page.getByRole("radio", { name: "In words" }).click();
  await expect(page.getByText("about: set by hand")).toBeVisible();
});

test("the level between two processors is what is there, and a bypassed chain gives the sound as it came", async ({
  page,
  stepped,
}) => {
  const tone = await addTone(stepped);
  await add(stepped, tone, "utility", "lowCut");
  const [utility] = await chainOf(stepped, tone);
  await stepped.send("PATCH", `/api/shows/LIVE/sources/${tone}/chain/${utility?.id}`, { values: { gain: -12 } });
  await openVoice(page, stepped, tone, "steady");
  const chain = page.getByRole("region", { name: "The chain" });
  const levels = async () => {
    await stepped.step(0.5);
    return (await chain.innerText()).replace(/\s+/g, " ");
  };
  await expect.poll(levels).toMatch(/Comes in: −20\.0 .*Between Utility and Low cut: −32\.0 /);
  await page.getByRole("button", { name: "Bypass all" }).click();
  await expect(page.getByRole("button", { name: "All bypassed" })).toHaveAttribute("aria-pressed", "true");
  expect((await chainOf(stepped, tone)).map((p) => p.bypassed)).toEqual([true, true]);
  await expect.poll(levels).toMatch(/Between Utility and Low cut: −20\.0 /);
  await stepped.step(1);
  const through = await record(page, stepped, 1);
  expect(rms(through("steady").left)).toBeCloseTo(-23.01, 1);
  await page.keyboard.press("Control+z");
  await expect(page.getByRole("button", { name: "Bypass all" })).toHaveAttribute("aria-pressed", "false");
  expect((await chainOf(stepped, tone)).map((p) => p.bypassed)).toEqual([false, false]);
});

test("an order that works against itself is told where it stands, and no more once it does not", async ({
  page,
  stepped,
}) => {
  await add(stepped, shelf, "compressor", "gate");
  await openVoice(page, stepped, shelf, "Record shelf");
  await station(page, "Gate").click();
  const note = page.getByText("The gate after the compressor hears a louder room").first();
  await expect(note).toBeVisible();
  await page.getByRole("button", { name: "Move Gate earlier" }).click();
  await expect(page.getByText("The gate after the compressor hears a louder room")).toHaveCount(0);
});

test("a processor is doubled, a chain is copied from another, and an empty one offers what there is to begin with", async ({
  page,
  stepped,
}) => {
  await add(stepped, shelf, "lowCut", "gate");
  await openVoice(page, stepped, shelf, "Record shelf");
  await station(page, "Low cut").click();
  await page.getByRole("button", { name: "Duplicate Low cut" }).click();
  await expect.poll(types(stepped, shelf)).toEqual(["lowCut", "lowCut", "gate"]);
  await page.getByRole("button", { name: /^Whose chain/ }).click();
  await page.getByRole("menuitem", { name: "Skerry Keeper", exact: true }).click();
  await expect(page.getByRole("heading", { name: "The sound passes as it comes" })).toBeVisible();
  await page.getByRole("button", { name: "Copy from" }).click();
  await page.getByRole("menuitem", { name: /^Record shelf/ }).click();
  await expect.poll(types(stepped, "skerry-keeper")).toEqual(["lowCut", "lowCut", "gate"]);
  const ids = [...(await chainOf(stepped, shelf)), ...(await chainOf(stepped, "skerry-keeper"))].map((p) => p.id);
  expect(new Set(ids).size).toBe(6);
});

test("with and without are heard by oneself alone, as loud as one another, and end with the workshop", async ({
  page,
  stepped,
}) => {
  const tone = await addTone(stepped);
  await add(stepped, tone, "utility", "equaliser");
  const [utility] = await chainOf(stepped, tone);
  await stepped.send("PATCH", `/api/shows/LIVE/sources/${tone}/chain/${utility?.id}`, { values: { gain: -9 } });
  await openVoice(page, stepped, tone, "steady");
  const heard = page.getByRole("status").filter({ hasText: "LU made up" });
  await page.getByRole("button", { name: "Without", exact: true }).click();
  await expect(page.getByText("You hear steady: without")).toBeVisible();
  await expect
    .poll(async () => {
      await stepped.step(0.2);
      return heard.allInnerTexts();
    })
    .toEqual(["−9.0 LU made up"]);
  // What everybody else gets, and what is recorded, is as it was.
  const meanwhile = await record(page, stepped, 1);
  expect(rms(meanwhile("steady").left)).toBeCloseTo(-32.01, 1);
  await station(page, "Equaliser").click();
  await page.getByRole("button", { name: "Band 2 alone", exact: true }).click();
  await expect(page.getByRole("button", { name: "Band 2 alone", exact: true })).toHaveAttribute("aria-pressed", "true");
  await expect(page.getByRole("button", { name: "Without", exact: true })).toHaveAttribute("aria-pressed", "false");
  await page.getByRole("link", { name: "Desk" }).click();
  await expect(page.getByText(/^You hear/)).toBeHidden();
});

test("two sources that heard the same clap are brought together as one step, and what is refused offers nothing", async ({
  page,
  stepped,
}, info) => {
  const clap = noise(4);
  const burst = Array.from({ length: 3000 }, (_, n) => 0.5 * Math.exp(-n / 300) * clap());
  for (const [name, late] of [
    ["near", 0],
    ["far", 960],
  ] as const) {
    const file = info.outputPath(`${name}.wav`);
    writeWav(file, 4, (n) => burst[n - 70_000 - late] ?? 0);
    await addFile(stepped, file);
  }
  await stepped.step(9);
  const show = (await stepped.get("/api/shows/live")) as { sources: { id: string; name: string; syncDelay: number }[] };
  const near = show.sources.find((s) => s.name === "near");
  await openVoice(page, stepped, near?.id ?? "", "near");
  await page.getByRole("button", { name: "In time", exact: true }).click();
  const dialog = page.getByRole("dialog");
  await expect(dialog.getByRole("row", { name: /^Viewers/ })).toBeVisible();
  await dialog.getByLabel("The other source").selectOption("Record shelf");
  await dialog.getByRole("button", { name: "Compare" }).click();
  await expect(dialog.getByRole("status")).toBeVisible();
  await expect(dialog.getByRole("button", { name: /^Set the sync delay/ })).toHaveCount(0);
  await dialog.getByLabel("The other source").selectOption("far");
  await dialog.getByRole("button", { name: "Compare" }).click();
  await expect(dialog.getByText(/^far comes 20\.0\d ms later than near/)).toBeVisible();
  await dialog.getByRole("button", { name: /^Set the sync delay of near to 20\.0\d ms$/ }).click();
  const delay = async () => {
    const now = (await stepped.get("/api/shows/live")) as typeof show;
    return now.sources.find((s) => s.name === "near")?.syncDelay;
  };
  await expect.poll(delay).toBeCloseTo(20, 1);
  await page.keyboard.press("Escape");
  await page.keyboard.press("Control+z");
  await expect.poll(delay).toBe(0);
});
