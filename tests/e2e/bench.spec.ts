import type { Page } from "@playwright/test";
import { expect, openDesk, test } from "./support/fixtures.ts";
import type { Server } from "./support/server.ts";
import { addTone, record } from "./support/sound.ts";

interface Chained {
  id: string;
  type: string;
  values: Record<string, number>;
}

interface Loop {
  id: string;
  name: string;
  variants: { id: string; name: string; chain: Chained[] }[];
}

const loopsOf = async (server: Server) => (await server.get("/api/shows/LIVE/loops")) as Loop[];

async function chainOf(server: Server, source: string): Promise<Chained[]> {
  const show = (await server.get("/api/shows/live")) as { sources: { id: string; chain: Chained[] }[] };
  return show.sources.find((s) => s.id === source)?.chain ?? [];
}

/** A steady tone, 9 dB quieter by its chain, whose last ten seconds are on the bench. */
async function onBench(page: Page, server: Server): Promise<string> {
  const tone = await addTone(server);
  await server.send("POST", `/api/shows/LIVE/sources/${tone}/chain`, { type: "utility" });
  const [utility] = await chainOf(server, tone);
  await server.send("PATCH", `/api/shows/LIVE/sources/${tone}/chain/${utility?.id}`, { values: { gain: -9 } });
  for (let i = 0; i < 11; i++) await server.step(1);
  await openDesk(page, server);
  await page.goto(`${server.url}/voice?at=source/${tone}`);
  await page.getByRole("button", { name: "Bench", exact: true }).click();
  await page.getByRole("button", { name: "The last 10 seconds" }).click();
  await expect(variant(page, "As it is now")).toBeVisible();
  return tone;
}

/** Whether two recordings of a sound that goes round in a second are the same to the bit, wherever in it they began. */
function isSameRound(one: Float64Array, other: Float64Array): boolean {
  const round = 48_000;
  for (let k = 0; k < round; k++) {
    let n = 0;
    while (n < round && one[n] === other[(k + n) % round]) n++;
    if (n === round) return true;
  }
  return false;
}

const variant = (page: Page, name: string) =>
  page.getByRole("group", { name: "Hear, for yourself alone" }).getByRole("button", { name: new RegExp(`${name}$`) });

const view = (page: Page, name: "Chain" | "Compare" | "Blind") => page.getByRole("radio", { name }).click();

test("a loop is tweaked for oneself alone, put on air as one step, and taken back; what all others get stays bit for bit what it was", async ({
  page,
  stepped,
}) => {
  const tone = await onBench(page, stepped);
  const before = (await record(page, stepped, 1))("steady");
  await page.getByRole("button", { name: "Variant", exact: true }).click();
  await page.getByRole("menuitem", { name: "A copy of As it is now" }).click();
  await expect(variant(page, "As it is now 2")).toHaveAttribute("aria-current", "true");
  await variant(page, "As it is now 2").click();
  await expect(page.getByText("You hear Loop: As it is now 2")).toBeVisible();
  await page.getByRole("radio", { name: "In numbers" }).click();
  const gain = page.getByRole("slider", { name: "Gain" });
  await gain.focus();
  await page.keyboard.press("ArrowRight");
  await expect.poll(async () => (await loopsOf(stepped))[0]?.variants[1]?.chain[0]?.values.gain).toBeGreaterThan(-9);
  const turned = (await loopsOf(stepped))[0]?.variants[1]?.chain[0]?.values.gain;

  // Listening to one and to the other, nobody else hears any of it.
  await page.keyboard.press("2");
  await expect(variant(page, "As it is now")).toHaveAttribute("aria-pressed", "true");
  const meanwhile = (await record(page, stepped, 1))("steady");
  expect(isSameRound(before.left, meanwhile.left)).toBe(true);
  expect((await chainOf(stepped, tone))[0]?.values.gain).toBe(-9);

  await page.keyboard.press("3");
  await page.getByRole("button", { name: "Put “As it is now 2” on air" }).click();
  await expect.poll(async () => (await chainOf(stepped, tone))[0]?.values.gain).toBe(turned);
  await page.keyboard.press("Control+z");
  await expect.poll(async () => (await chainOf(stepped, tone))[0]?.values.gain).toBe(-9);

  // The next one is about the bench again, and no other step of the show.
  await page.keyboard.press("Control+z");
  await expect.poll(async () => (await loopsOf(stepped))[0]?.variants[1]?.chain[0]?.values.gain).toBe(-9);
  await page.keyboard.press("Control+z");
  await expect(page.getByText("Nothing more on the bench.", { exact: true })).toBeVisible();
  expect((await chainOf(stepped, tone))[0]?.values.gain).toBe(-9);
});

test("with the keyboard alone: a digit hears a variant, a letter in a name does nothing else, and one is worked on", async ({
  page,
  stepped,
}) => {
  await onBench(page, stepped);
  await page.keyboard.press("2");
  await expect(variant(page, "As it is now")).toHaveAttribute("aria-pressed", "true");
  await page.keyboard.press("0");
  await expect(variant(page, "As it is now")).toHaveAttribute("aria-pressed", "false");
  await page.keyboard.press("1");
  await expect(variant(page, "Without")).toHaveAttribute("aria-pressed", "true");
  await page.keyboard.press("9");
  await expect(variant(page, "Without")).toHaveAttribute("aria-pressed", "true");
  await page.getByRole("button", { name: "Change the variant’s name" }).focus();
  await page.keyboard.press("Enter");
  await page.keyboard.type("h1 r2");
  await expect(variant(page, "Without")).toHaveAttribute("aria-pressed", "true");
  await page.keyboard.press("Enter");
  await expect(variant(page, "h1 r2")).toBeVisible();
  await expect(page.getByRole("button", { name: "Change the variant’s name" })).toBeFocused();
  await expect(page.getByRole("button", { name: "Hush", exact: true })).toHaveAttribute("aria-pressed", "false");

  // A processor is added, moved and removed; each is taken back on the bench.
  await page.getByRole("button", { name: "Add", exact: true }).focus();
  await page.keyboard.press("Enter");
  // By arrows: letters that are typed too slowly begin another search.
  const items = page.getByRole("menuitem");
  await expect(items.first()).toBeFocused();
  const lowCut = (await items.allTextContents()).findIndex((words) => words.startsWith("Low cut"));
  for (let i = 1; i <= lowCut; i++) {
    await page.keyboard.press("ArrowDown");
    await expect(items.nth(i)).toBeFocused();
  }
  await expect(page.getByRole("menuitem", { name: /^Low cut/ })).toBeFocused();
  await page.keyboard.press("Enter");
  const types = async () => (await loopsOf(stepped))[0]?.variants[0]?.chain.map((p) => p.type);
  await expect.poll(types).toEqual(["lowCut", "utility"]);

  // The server has it before it is drawn here; what stands alone on the screen cannot be moved.
  const chain = page.getByRole("region", { name: "The chain" });
  await expect(chain.getByRole("button", { name: "Low cut", exact: true })).toBeVisible();
  await chain.getByRole("button", { name: "Utility", exact: true }).focus();
  await page.keyboard.press("Shift+ArrowLeft");
  await expect.poll(types).toEqual(["utility", "lowCut"]);
  await page.keyboard.press("Control+z");
  await expect.poll(types).toEqual(["lowCut", "utility"]);
  await page.keyboard.press("Control+z");
  await expect.poll(types).toEqual(["utility"]);
  await page.keyboard.press("Control+Shift+z");
  await expect.poll(types).toEqual(["lowCut", "utility"]);
});

test("quick hands under a slow answer: what was done last on the bench is what is taken back, and nothing before it", async ({
  page,
  stepped,
}) => {
  await onBench(page, stepped);
  const types = async () => (await loopsOf(stepped))[0]?.variants[0]?.chain.map((p) => p.type);
  await page.getByRole("button", { name: "Add", exact: true }).click();
  await page.getByRole("menuitem", { name: /^Low cut/ }).click();
  await expect.poll(types).toEqual(["lowCut", "utility"]);
  const chain = page.getByRole("region", { name: "The chain" });
  await expect(chain.getByRole("button", { name: "Low cut", exact: true })).toBeVisible();
  await chain.getByRole("button", { name: "Utility", exact: true }).focus();
  // The answer to the move comes only when it is let go.
  let letGo = () => {};
  const held = new Promise<void>((go) => {
    letGo = go;
  });
  const asked: string[] = [];
  await page.route(/\/variants\//, async (route) => {
    asked.push(route.request().method());
    const response = await route.fetch();
    await held;
    await route.fulfill({ response });
  });
  await page.keyboard.press("Shift+ArrowLeft");
  await expect.poll(types).toEqual(["utility", "lowCut"]);
  await page.keyboard.press("Control+z");
  letGo();
  await expect.poll(() => asked.length).toBe(2);
  await expect.poll(types).toEqual(["lowCut", "utility"]);
  await page.keyboard.press("Control+z");
  await expect.poll(types).toEqual(["utility"]);
});

test("what is said now is taken from its beginning to its end, and too little is refused with words", async ({
  page,
  stepped,
}) => {
  await onBench(page, stepped);
  await page.getByRole("button", { name: /^Which loop/ }).click();
  await page.getByRole("menuitem", { name: /Another loop/ }).click();
  await page.getByRole("button", { name: "Begin", exact: true }).click();
  await page.getByRole("button", { name: /^End/ }).click();
  await expect(page.getByText("Of steady, 0 s are there.", { exact: true })).toBeVisible();
  await page.getByRole("button", { name: "Begin", exact: true }).click();
  await expect(page.getByRole("button", { name: /^End/ })).toBeVisible();
  for (let i = 0; i < 7; i++) await stepped.step(1);
  await page.getByRole("button", { name: /^End/ }).click();
  await expect(page.getByRole("button", { name: "Which loop: Loop 2" })).toBeVisible();
  await page.reload();
  await expect(page.getByRole("button", { name: "Which loop: Loop 2" })).toBeVisible();
});

test("another window hears at once of a loop that is taken, and of a chain that is kept", async ({
  page,
  context,
  stepped,
}) => {
  await onBench(page, stepped);
  const other = await context.newPage();
  await openDesk(other, stepped);
  await other.goto(page.url());
  await other.getByRole("button", { name: /^Which loop/ }).click();
  await expect(other.getByRole("menuitem", { name: "Loop" }).first()).toBeVisible();
  const [loop] = await loopsOf(stepped);
  await stepped.send("PATCH", `/api/shows/LIVE/loops/${loop?.id}`, { name: "Evening" });
  await expect(other.getByRole("menuitem", { name: "Evening" })).toBeVisible();
  await other.keyboard.press("Escape");
  await other.getByRole("button", { name: "Presets", exact: true }).click();
  const kept = (await stepped.send("POST", "/api/presets", {
    name: "Shared by windows",
    chain: loop?.variants[0]?.chain,
  })) as { id: string };
  await expect(other.getByRole("menuitem", { name: /Shared by windows/ })).toBeVisible();
  await stepped.send("DELETE", `/api/presets/${kept.id}`, undefined);
  // In a menu that is open, what is gone rests.
  await expect(other.getByRole("menuitem", { name: /Shared by windows/ })).toBeDisabled();
});

test("the level between two processors of a variant is what is there while its loop runs", async ({
  page,
  stepped,
}) => {
  await onBench(page, stepped);
  const out = page.getByRole("region", { name: "The chain" }).getByText(/^Leaves the chain:/);
  await expect
    .poll(async () => {
      await stepped.step(0.3);
      return (await out.locator("..").innerText()).replaceAll(/\s+/g, " ");
    })
    .toContain("−29.0");
});

test("all are measured beside the sound without, and drawn", async ({ page, stepped }) => {
  await onBench(page, stepped);
  await view(page, "Compare");
  const row = page.getByRole("row", { name: /^As it is now/ });
  await expect(row).toContainText("−9.0");
  await expect(row).toContainText("+9.0");
  await expect(page.getByRole("img", { name: /^Without: its waveform/ })).toBeVisible();
  await expect(page.getByRole("img", { name: /^As it is now: its waveform/ })).toBeVisible();
});

test("two are compared without their names, quick hands count once under a slow answer, and at the end it is told", async ({
  page,
  stepped,
}) => {
  await onBench(page, stepped);
  await view(page, "Blind");
  await page.getByRole("button", { name: "Begin", exact: true }).click();
  await expect(page.getByRole("heading", { name: "Round 1" })).toBeVisible();
  await expect(page.getByText("As it is now")).toBeHidden();
  const held: (() => void)[] = [];
  await page.route("**/choices", (route) => {
    held.push(() => void route.continue());
  });
  await page.getByRole("button", { name: "The other", exact: true }).click();
  await expect(page.getByRole("button", { name: "The other", exact: true })).toHaveAttribute("aria-pressed", "true");
  await page.getByRole("button", { name: "The other is better" }).dblclick({ noWaitAfter: true, force: true });
  await expect.poll(() => held.length).toBe(1);
  held.pop()?.();
  await expect(page.getByRole("heading", { name: "Round 2" })).toBeVisible();
  expect(held).toHaveLength(0);
  await page.unroute("**/choices");
  for (let round = 2; round <= 5; round++) {
    await page.getByRole("button", { name: "The one is better" }).click();
    await expect(page.getByRole("heading", { name: `Round ${round + 1}` })).toBeVisible();
  }
  await page.getByRole("button", { name: "End, and tell me" }).click();
  await expect(page.getByRole("status").filter({ hasText: /of 5 times/ })).toBeVisible();
  await expect(page.getByText(/^You hear/)).toBeHidden();
});

test("a chain is kept under a name, taken out as a file, forgotten, brought in again and used", async ({
  page,
  stepped,
}) => {
  const tone = await addTone(stepped);
  await stepped.send("POST", `/api/shows/LIVE/sources/${tone}/chain`, { type: "lowCut" });
  await openDesk(page, stepped);
  await page.goto(`${stepped.url}/voice?at=source/${tone}`);
  const manage = async () => {
    await page.getByRole("button", { name: "Presets", exact: true }).click();
    await page.getByRole("menuitem", { name: /^Keep this chain/ }).click();
  };
  await manage();
  await page.getByLabel("Keep it as").fill("Evening");
  await page.getByLabel("What it is for", { exact: true }).fill("Softly, close to the microphone.");
  await page.getByRole("button", { name: "Keep this chain" }).dblclick();
  const kept = page.getByRole("listitem", { name: "Evening" });
  await expect(kept).toHaveCount(1);
  const downloading = page.waitForEvent("download");
  await kept.getByRole("link", { name: "Export Evening as a file" }).click();
  const file = await (await downloading).path();
  await kept.getByRole("button", { name: "Forget Evening" }).click();
  await page.getByRole("button", { name: "Forget it", exact: true }).click();
  await expect(kept).toHaveCount(0);
  await page.getByLabel("A chain file").setInputFiles(file);
  await expect(kept).toHaveCount(1);
  await page.keyboard.press("Escape");
  await stepped.send("PUT", `/api/shows/LIVE/sources/${tone}/chain`, {});
  await expect.poll(async () => (await chainOf(stepped, tone)).length).toBe(0);
  await page.getByRole("button", { name: "Presets", exact: true }).click();
  await page.getByRole("menuitem", { name: /^Evening/ }).click();
  await expect.poll(async () => (await chainOf(stepped, tone)).map((p) => p.type)).toEqual(["lowCut"]);
  const own = (await stepped.get("/api/presets")) as { id: string }[];
  for (const { id } of own) await stepped.send("DELETE", `/api/presets/${id}`);
});
