import { mkdirSync, writeFileSync } from "node:fs";
import { join } from "node:path";
import type { Page } from "@playwright/test";
import { expect, openDesk, test } from "./support/fixtures.ts";
import type { Server } from "./support/server.ts";
import { record, rms, writeWav } from "./support/sound.ts";

interface ShowOfPads {
  sources: { id: string; name: string; input: { type: string } }[];
  mixes: { id: string; sends: { source: string; muted?: boolean }[] }[];
  padSets: {
    id: string;
    name: string;
    pads: { id: string; name: string; key: string; begin: number; end: number }[];
  }[];
}

const showOf = async (server: Server) => (await server.get("/api/shows/live")) as ShowOfPads;

/** A tone of so many Hz at half of full scale, whole periods long, so that it begins and ends at zero. */
function tone(folder: string, name: string, hertz: number, seconds: number) {
  mkdirSync(folder, { recursive: true });
  const path = join(folder, name);
  writeWav(path, seconds, (frame) => 0.5 * Math.sin((2 * Math.PI * hertz * frame) / 48000));
  return path;
}

async function openPads(page: Page, server: Server) {
  await openDesk(page, server);
  await page.getByRole("link", { name: "Pads" }).click();
}

/** Begins a set in a show that has none, and adds files to it. */
async function addFiles(page: Page, files: string[], label = "Sound files") {
  await page.getByLabel(label, { exact: true }).setInputFiles(files);
}

async function beginSet(page: Page) {
  await page.getByRole("button", { name: "Begin a set" }).click();
  await expect(page.getByRole("button", { name: "Set at hand: Pads" })).toBeVisible();
}

const onKey = (page: Page, name: string) => page.getByRole("button", { name: new RegExp(`^${name}, on `) });

const sounding = (page: Page, name: string) => onKey(page, name).and(page.locator("[data-sounds]"));

/** Lets time go on until the page says so. */
async function until(server: Server, is: () => Promise<boolean>) {
  await expect
    .poll(async () => {
      await server.step(0.05);
      return is();
    })
    .toBe(true);
}

test("a folder of sounds is laid on keys; what a key plays is heard by those whom its source reaches, and by nobody else", async ({
  page,
  own,
}) => {
  const folder = join(own.data, "stings");
  tone(folder, "one.wav", 500, 1);
  tone(folder, "two.wav", 1000, 1);
  writeFileSync(join(folder, "notes.txt"), "not a sound");
  await openPads(page, own);
  await beginSet(page);
  await page.getByLabel("A folder of sounds").setInputFiles(folder);
  await expect(onKey(page, "one")).toHaveAccessibleName("one, on A, 1.0 s");
  await expect(onKey(page, "two")).toHaveAccessibleName("two, on S, 1.0 s");
  await expect(page.getByText("1 of 3 are no sound files.").first()).toBeVisible();

  // Viewers hear pads alone, at −6 dB; I hear nothing of them.
  const show = await showOf(own);
  const pads = show.sources.find((s) => s.input.type === "pads")?.id;
  for (const mix of ["viewers", "my-ears"])
    for (const { source } of show.mixes.find((m) => m.id === mix)?.sends ?? [])
      await own.send("PATCH", `/api/shows/LIVE/mixes/${mix}/sends/${source}`, {
        heard: source === pads && mix === "viewers",
        ...(source === pads ? { gain: -6 } : {}),
      });
  await own.step(4);
  const track = await record(page, own, 0.5);
  expect(rms(track("Viewers").left)).toBe(Number.NEGATIVE_INFINITY);
  await page.keyboard.press("s");
  await until(own, () => sounding(page, "two").isVisible());
  const played = await record(page, own, 0.5);
  // A tone at half of full scale is at −9 dB in each channel, and its send 6 dB below.
  expect(rms(played("Viewers").left.subarray(4800, 19200))).toBeCloseTo(-9.03 - 6, 1);
  expect(rms(played("Pads").left.subarray(4800, 19200))).toBeCloseTo(-9.03, 1);
  expect(rms(played("My ears").left)).toBe(Number.NEGATIVE_INFINITY);
  await until(own, async () => !(await sounding(page, "two").isVisible()));
});

test("a letter that is typed plays nothing, one that is held plays once, and what is held ends when the window is left", async ({
  page,
  stepped,
}) => {
  await openPads(page, stepped);
  await beginSet(page);
  await addFiles(page, [tone(join(stepped.data, "held"), "held.wav", 300, 20)]);
  await onKey(page, "held").click({ button: "right" });
  const inspector = page.getByRole("complementary", { name: "Inspector: held" });
  await inspector.getByRole("button", { name: /^Plays/ }).click();
  await page.getByRole("menuitem", { name: "While it is held" }).click();
  await expect(inspector.getByRole("button", { name: "Plays: While it is held" })).toBeVisible();

  await inspector.getByRole("textbox", { name: "Name" }).fill("a a a");
  await page.keyboard.type("aaa");
  await page.keyboard.press("Escape");
  await page.getByRole("textbox", { name: "Search pads" }).pressSequentially("aha");
  await page.keyboard.press("Control+a");
  await page.keyboard.press("Alt+a");
  await page.keyboard.press("Escape");
  await page.getByRole("button", { name: "Add", exact: true }).click();
  await page.keyboard.press("a");
  await page.keyboard.press("Escape");
  await page.evaluate(() => fetch("/api/status"));
  await stepped.step(0.2);
  await expect(sounding(page, "held")).toHaveCount(0);
  await expect(page.getByRole("menu")).toHaveCount(0);

  await page.keyboard.down("a");
  await page.keyboard.down("a");
  await page.keyboard.down("a");
  await until(stepped, () => sounding(page, "held").isVisible());
  await page.keyboard.up("a");
  await until(stepped, async () => !(await sounding(page, "held").isVisible()));

  await page.keyboard.down("a");
  await until(stepped, () => sounding(page, "held").isVisible());
  await page.evaluate(() => window.dispatchEvent(new Event("blur")));
  await until(stepped, async () => !(await sounding(page, "held").isVisible()));
  await page.keyboard.up("a");

  // A window that is gone holds nothing either.
  await page.keyboard.down("a");
  await until(stepped, () => sounding(page, "held").isVisible());
  await page.goto("about:blank");
  await openPads(page, stepped);
  await until(
    stepped,
    async () => (await onKey(page, "held").isVisible()) && !(await sounding(page, "held").isVisible()),
  );
});

test("what was just heard is a pad within a moment; it is trimmed, and after a restart all of it is there", async ({
  page,
  own,
}) => {
  await openPads(page, own);
  await beginSet(page);
  await own.step(12);
  await page.getByRole("button", { name: "Just heard" }).click();
  await page.getByRole("menuitem", { name: "Record shelf" }).first().click();
  const pad = onKey(page, "Record shelf just now").or(page.getByRole("button", { name: /^Record shelf just now, / }));
  await expect(pad.first()).toBeVisible();
  await page.getByRole("radio", { name: "Arrange" }).click();
  await pad.first().click();
  const begins = page.getByRole("slider", { name: "Begins at" });
  await expect(begins).toBeVisible();
  const [from, to] = [
    Number(await begins.getAttribute("aria-valuenow")),
    Number(await begins.getAttribute("aria-valuemax")),
  ];
  expect(to - from).toBeGreaterThan(9_900);
  await begins.focus();
  await page.keyboard.down("ArrowRight");
  await page.keyboard.down("ArrowRight");
  await page.keyboard.down("ArrowRight");
  await page.keyboard.up("ArrowRight");
  await expect.poll(async () => (await showOf(own)).padSets[0]?.pads[0]?.begin ?? 0).toBeGreaterThan(from + 10);
  const before = (await showOf(own)).padSets;
  await own.kill();
  await own.start();
  await expect(page.getByText("What you see is what was last known")).toBeHidden();
  expect((await showOf(own)).padSets).toEqual(before);
  await page.getByRole("radio", { name: "Play" }).click();
  await page.keyboard.press("a");
  if (before[0]?.pads[0]?.key === "") await pad.first().press("Enter");
  await until(own, () => page.locator("[data-sounds]").first().isVisible());
  await page.keyboard.press("Backspace");
  await until(own, async () => (await page.locator("[data-sounds]").count()) === 0);
});

test("by keys alone a pad is found, laid on another key, made a loop, heard and taken back", async ({
  page,
  stepped,
}) => {
  await openPads(page, stepped);
  await beginSet(page);
  const folder = join(stepped.data, "keys");
  await addFiles(page, [tone(folder, "bell.wav", 700, 1), tone(folder, "rain.wav", 200, 1)]);
  await expect(onKey(page, "rain")).toBeVisible();
  await page.getByRole("radio", { name: "Arrange" }).focus();
  await page.keyboard.press("Enter");
  await onKey(page, "bell").focus();
  await page.keyboard.press("ArrowRight");
  await expect(onKey(page, "rain")).toBeFocused();
  await page.keyboard.press("Enter");
  const inspector = page.getByRole("complementary", { name: "Inspector: rain" });
  await inspector.getByRole("button", { name: /^Key: S/ }).focus();
  await page.keyboard.press("Enter");
  await page.keyboard.press("F1");
  await expect(page.getByText("No pad can lie on this key.").first()).toBeVisible();
  await page.keyboard.press("a");
  await expect(page.getByText("rain and bell have changed places.").first()).toBeVisible();
  await expect(onKey(page, "rain")).toHaveAccessibleName("rain, on A, 1.0 s");
  await expect(onKey(page, "bell")).toHaveAccessibleName("bell, on S, 1.0 s");
  await page.keyboard.press("Control+z");
  await expect(onKey(page, "rain")).toHaveAccessibleName("rain, on S, 1.0 s");
  await page.keyboard.press("Escape");
  await page.getByRole("radio", { name: "Play" }).focus();
  await page.keyboard.press("Enter");
  await onKey(page, "bell").focus();
  await page.keyboard.press("Enter");
  await until(stepped, () => sounding(page, "bell").isVisible());
});

test("what cannot be read is told by its name, what does not fit is told by number, and nothing is lost", async ({
  page,
  stepped,
}) => {
  const folder = join(stepped.data, "odd");
  const good = tone(folder, "good.wav", 400, 0.2);
  writeFileSync(join(folder, "broken.wav"), "RIFF but no sound");
  await openPads(page, stepped);
  await beginSet(page);
  await addFiles(page, [join(folder, "broken.wav"), good]);
  await expect(page.getByText(/broken\.wav: /).first()).toBeVisible();
  await expect(onKey(page, "good")).toBeVisible();

  // Five hundred at once: as many as a set takes, in one step.
  const many = await page.evaluateHandle(async () => {
    const bytes = new Uint8Array(46);
    const view = new DataView(bytes.buffer);
    const text = (at: number, words: string) => bytes.set(new TextEncoder().encode(words), at);
    text(0, "RIFF");
    view.setUint32(4, 38, true);
    text(8, "WAVEfmt ");
    view.setUint32(16, 16, true);
    view.setUint16(20, 1, true);
    view.setUint16(22, 1, true);
    view.setUint32(24, 48000, true);
    view.setUint32(28, 96000, true);
    view.setUint16(32, 2, true);
    view.setUint16(34, 16, true);
    text(36, "data");
    view.setUint32(40, 2, true);
    const data = new DataTransfer();
    for (let i = 0; i < 500; i++) data.items.add(new File([bytes], `file ${i}.wav`, { type: "audio/wav" }));
    return data;
  });
  await page.locator("[data-key=KeyM]").dispatchEvent("drop", { dataTransfer: many });
  await expect(page.getByText("A set takes 100 pads: 401 were left out.").first()).toBeVisible({ timeout: 60_000 });
  const show = await showOf(stepped);
  expect(show.padSets[0]?.pads).toHaveLength(100);
  expect(new Set(show.padSets[0]?.pads.map((p) => p.key).filter((k) => k !== "")).size).toBe(36);
  expect(show.padSets[0]?.pads.find((p) => p.name === "file 0")?.key).toBe("KeyM");
});

test("quick hands and a slow server make one set, and one of each", async ({ page, stepped }) => {
  await openPads(page, stepped);
  let release = () => {};
  const held = new Promise<void>((done) => {
    release = done;
  });
  await page.route("**/pad-sets?**", async (route) => {
    await held;
    await route.continue();
  });
  const begin = page.getByRole("button", { name: "Begin a set" });
  await begin.dblclick();
  await begin.press("Enter");
  release();
  await expect(page.getByRole("button", { name: "Set at hand: Pads" })).toBeVisible();
  await page.evaluate(() => fetch("/api/status"));
  expect((await showOf(stepped)).padSets).toHaveLength(1);
});

test("a list of cues is made and gone through by one key, follows by itself, waits while it is held, and rests while somebody types", async ({
  page,
  stepped,
}) => {
  await openPads(page, stepped);
  await beginSet(page);
  await addFiles(page, [tone(join(stepped.data, "cues"), "bell.wav", 700, 1)]);
  await expect(onKey(page, "bell")).toBeVisible();
  await page.getByRole("button", { name: "Cues" }).click();
  const panel = page.getByRole("complementary", { name: "Cues" });
  const add = async (what: string) => {
    await panel.getByRole("button", { name: "Add a cue" }).click();
    await page.getByRole("menuitem", { name: what }).click();
  };
  await add("Play bell");
  await expect(panel.getByRole("button", { name: /bell Play bell/ })).toBeVisible();
  await add("A place to wait at");
  await expect(panel.getByRole("textbox", { name: "Name" })).toHaveValue("Wait here");
  await panel.getByRole("button", { name: /^Begins/ }).click();
  await page.getByRole("menuitem", { name: "Behind the end before" }).click();
  await panel.getByRole("textbox", { name: "Notes" }).fill("now the guest");
  await page.keyboard.press("PageDown");
  await page.evaluate(() => fetch("/api/status"));
  await expect(panel.getByRole("region", { name: "Next" })).toContainText("bell");
  await panel.getByRole("region", { name: "Next" }).getByRole("button", { name: "Go on" }).focus();
  await expect.poll(async () => JSON.stringify(await showOf(stepped))).toContain("now the guest");

  // An answer that was under way when the cue began is not what stands in the end.
  let release = () => {};
  const released = new Promise<void>((done) => {
    release = done;
  });
  let [asked, holding] = [0, true];
  await page.route("**/cue-run", async (route) => {
    const response = await route.fetch();
    asked++;
    if (holding) await released;
    await route.fulfill({ response });
  });
  await stepped.send("PATCH", "/api/shows/LIVE/mixes/viewers", { gain: -1 });
  await expect.poll(() => asked).toBeGreaterThan(0);
  holding = false;
  await page.keyboard.press("PageDown");
  await until(stepped, () => sounding(page, "bell").isVisible());
  const late = page.waitForResponse("**/cue-run");
  release();
  await late;
  const next = panel.getByRole("region", { name: "Next" });
  await expect(next).toContainText("Wait here");
  await expect(next).toContainText("now the guest");
  await page.unroute("**/cue-run");
  await next.getByRole("button", { name: /^Hold/ }).click();
  await expect(next).toContainText("held");
  await stepped.step(3);
  await expect(next).toContainText("Wait here");
  await next.getByRole("button", { name: /^Hold/ }).click();
  await until(stepped, () => next.getByText("The list is over.").isVisible());

  // Levels as they are now, music that ends, a mark: as another cue.
  await add("Levels in Viewers, as they are now");
  const fields = panel.getByRole("list", { name: "What Levels of Viewers does" });
  await expect(fields).toContainText(/Recall \d+ levels in Viewers/);
  await fields.getByRole("textbox", { name: "Over how long" }).fill("1,5");
  await page.keyboard.press("Enter");
  await expect(panel.getByRole("button", { name: /^3 .*Recall \d+ levels in Viewers over 1.5 s/ })).toBeVisible();
  const also = async (what: string | RegExp) => {
    await panel.getByRole("button", { name: "And …" }).click();
    await page.getByRole("menuitem", { name: what }).click();
  };
  await also("End Record shelf");
  await expect(panel.getByRole("button", { name: /^3 .*End Record shelf over 3.0 s/ })).toBeVisible();
  await also("Set a mark");
  await fields.getByRole("textbox", { name: "Words of the mark" }).fill("the h r bell");
  await page.keyboard.press("Enter");
  await expect(fields).toContainText("Mark “the h r bell”");
  await stepped.send("POST", "/api/takes", {});
  await next.getByRole("button", { name: "Go on" }).click();
  await until(stepped, async () => {
    const take = ((await stepped.get("/api/takes")) as { marks: { words: string }[] }[])[0];
    return take?.marks[0]?.words === "the h r bell";
  });
  const shelf = async () =>
    (await showOf(stepped)).mixes.flatMap((m) => m.sends.filter((s) => s.source === "record-shelf"));
  await expect.poll(async () => (await shelf()).every((s) => s.muted)).toBe(true);
  await stepped.send("POST", "/api/takes/current/stop", {});
  for (let i = 0; i < 3; i++) await page.keyboard.press("PageUp");
  await expect(next).toContainText("Play bell");
  await page.keyboard.press("PageDown");
  await until(stepped, () => sounding(page, "bell").isVisible());
});
