import { resolve } from "node:path";
import type { Page } from "@playwright/test";
import { browserArgs, microphoneArgs } from "./support/browser.ts";
import { expect, openDesk, test } from "./support/fixtures.ts";
import { addFile, noise, record, writeWav } from "./support/sound.ts";

test.use({
  demo: true,
  launchOptions: { executablePath: "/usr/bin/chromium", args: [...browserArgs, ...microphoneArgs()] },
  permissions: ["microphone"],
});

const folder = resolve(import.meta.dirname, "../../docs/screenshots");

async function shoot(page: Page, name: string) {
  await page.mouse.move(640, 30);
  await page.evaluate(() => document.fonts.ready);
  await expect(page.getByText(/^Engine \d/).or(page.locator("nav"))).not.toHaveCount(0);
  // Two pictures of the screen later, all that is drawn rather than laid out is drawn.
  await page.evaluate(() => new Promise((done) => requestAnimationFrame(() => requestAnimationFrame(done))));
  await page.screenshot({ path: resolve(folder, `${name}.png`) });
}

for (const theme of ["dark", "light"] as const) {
  test(`the Desk, ${theme}`, async ({ page, stepped }) => {
    await page.emulateMedia({ colorScheme: theme });
    await openDesk(page, stepped);
    await stepped.step(13.5);
    await page.evaluate(() => new Promise((done) => setTimeout(done, 700)));
    await shoot(page, `desk-${theme}`);
  });
}

test("the computer around the desk", async ({ page, stepped }) => {
  await openDesk(page, stepped);
  await page.getByRole("link", { name: "Gear" }).click();
  await expect(page.getByRole("heading", { name: "Gear", exact: true })).toBeVisible();
  await stepped.step(6);
  await page.evaluate(() => new Promise((done) => setTimeout(done, 300)));
  await shoot(page, "gear");
});

test("a phone, and takes", async ({ page, stepped }) => {
  await openDesk(page, stepped);
  await stepped.step(13.5);
  await page.setViewportSize({ width: 390, height: 844 });
  await shoot(page, "desk-phone");
  await page.setViewportSize({ width: 1280, height: 800 });
  await page.emulateMedia({ colorScheme: "light" });
  await page.getByRole("link", { name: "Takes" }).click();
  await page.getByRole("button", { name: "Plan tracks" }).click();
  for (const name of ["Keeper’s radio", "Pads", "Computer"]) {
    await page.getByRole("button", { name: `More with the track ${name}` }).click();
    await page.getByRole("menuitem", { name: "Take it out of the plan" }).click();
    await expect(page.getByRole("button", { name: `More with the track ${name}` })).toBeHidden();
  }
  await page.getByRole("link", { name: "Desk" }).click();
  await record(page, stepped, 42);
  await page.getByRole("link", { name: "Takes" }).click();
  await expect(page.getByRole("status").filter({ hasText: /tracks are what their names say/ })).toBeVisible({
    timeout: 60_000,
  });
  await shoot(page, "takes");

  const { mixes, cables } = (await stepped.get("/api/shows/live")) as Record<"mixes" | "cables", { id: string }[]>;
  for (const point of [`mix/${mixes[1]?.id}`, `cable/${cables[0]?.id}`])
    await stepped.send("POST", "/api/addresses", { point });
  await page.getByRole("link", { name: "On air" }).click();
  await page.getByRole("button", { name: "Add a stream" }).click();
  await page.getByRole("menuitem", { name: /practice station/ }).click();
  await page.getByRole("button", { name: "Go on air: Viewers" }).click();
  await expect
    .poll(async () => {
      await stepped.step(0.2);
      return page.getByText("On air at 127.0.0.1.").isVisible();
    })
    .toBe(true);
  // Another one, which the station does not let in.
  const { port } = (await stepped.get("/api/station")) as { port: number };
  const server = { kind: "Source", host: "127.0.0.1", port, path: "/words", user: "source", secure: false };
  await stepped.send("POST", "/api/shows/LIVE/streams", { mix: mixes[2]?.id, name: "Words alone", server });
  await page.getByRole("button", { name: "Go on air: Words alone" }).click();
  await expect(page.getByText("You need to say who you are")).toBeVisible();
  await stepped.step(8);
  await expect(page.getByRole("list", { name: "Open addresses" }).getByRole("listitem").first()).toBeVisible();
  await shoot(page, "on-air");
});

test("cables, and a loop that is held", async ({ page, stepped }) => {
  await page.emulateMedia({ colorScheme: "dark" });
  await openDesk(page, stepped);
  const cable = "to-guest";
  await stepped.send("POST", `/api/shows/LIVE/cables/${cable}/feeds`, { from: "source/record-shelf", gain: -12 });
  const show = (await stepped.send("POST", `/api/shows/LIVE/cables/${cable}/sources`, { left: 0, right: 1 })) as {
    sources: { id: string }[];
  };
  const source = show.sources.at(-1)?.id ?? "";
  await stepped.send("PATCH", `/api/shows/LIVE/mixes/guest-hears/sends/${source}`, { heard: true, gain: -3 });
  await stepped.step(13.5);
  await page.getByRole("button", { name: "Cables" }).click();
  await expect(page.getByRole("dialog", { name: "Cables" }).getByText("From Guest line").last()).toBeVisible();
  await shoot(page, "cables");
});

test("the workshop", async ({ page, stepped }) => {
  await page.emulateMedia({ colorScheme: "dark" });
  const show = (await stepped.get("/api/shows/live")) as { sources: { id: string; name: string }[] };
  const host = show.sources.find((s) => s.name === "Host mic")?.id;
  await stepped.send("PUT", `/api/shows/LIVE/sources/${host}/chain`, { preset: "voiceClose" });
  await openDesk(page, stepped);
  await page.goto(`${stepped.url}/voice?at=source/${host}`);
  await page.getByRole("region", { name: "The chain" }).getByRole("button", { name: "Equaliser", exact: true }).click();
  await expect(page.getByRole("heading", { name: "Equaliser", exact: true })).toBeVisible();
  // Piece by piece, as it is looked at: eight seconds of it are shown.
  for (let i = 0; i < 39; i++) {
    await stepped.step(0.25);
    await page.evaluate(() => new Promise((done) => setTimeout(done, 30)));
  }
  await shoot(page, "voice-equaliser");
});

test("what is found, what a fix would change, and how a sound gets here", async ({ page, stepped }) => {
  await openDesk(page, stepped);
  await stepped.step(13.5);
  const { id, revision } = (await stepped.get("/api/shows/live")) as { id: string; revision: number };
  const change = (at: number, path: string, body: object) =>
    stepped.send("PATCH", `/api/shows/${id}/${path}?revision=${revision + at}`, body);
  await change(0, "mixes/guest-hears/sends/guest-call", { heard: true, gain: -3 });
  const input = { type: "app", app: "record-shelf", port: "music", stillPlays: true };
  await change(1, "sources/record-shelf", { input });
  await page.getByRole("button", { name: "2 findings", exact: true }).click();
  const dialog = page.getByRole("dialog", { name: "What is found" });
  await dialog.getByRole("button", { name: "Leave Guest call out of Guest hears" }).click();
  await expect(dialog.getByRole("region", { name: /what it would change/ })).toBeVisible();
  await page.reload();
  await dialog.getByRole("button", { name: "Leave Guest call out of Guest hears" }).click();
  await expect(dialog.getByRole("region", { name: /what it would change/ })).toBeVisible();
  await shoot(page, "findings");
  await page.keyboard.press("Escape");
  // From the player straight into the headset, and once more through the desk.
  await page.emulateMedia({ colorScheme: "light" });
  await page.goto(`${stepped.url}/paths?at=way/record-shelf/device/headset/out`);
  const trace = page.getByRole("region", { name: "How it gets here" });
  await expect(trace).toContainText("Record shelf reaches Headset by 2 ways");
  await stepped.step(0.5);
  await shoot(page, "trace");
});

test("promises, one of them broken", async ({ page, stepped }) => {
  await page.emulateMedia({ colorScheme: "light" });
  await openDesk(page, stepped);
  await stepped.step(20);
  await stepped.send("PATCH", "/api/shows/LIVE/mixes/viewers/sends/crew-talk", { heard: true, gain: -24 });
  await stepped.step(40);
  await page.getByRole("button", { name: /broken/ }).click();
  await expect(page.getByRole("dialog", { name: "Promises" }).getByText(/It was heard at Viewers/)).toBeVisible();
  await shoot(page, "promises");
});

test("the map of paths, and what to pick where", async ({ page, stepped }) => {
  await page.emulateMedia({ colorScheme: "dark" });
  await openDesk(page, stepped);
  await stepped.step(20);
  await page.getByRole("link", { name: "Paths" }).click();
  await expect(page.getByRole("button", { name: "Viewers, a mix of 8 sources" })).toBeVisible();
  await stepped.step(0.5);
  await page.evaluate(() => new Promise((done) => setTimeout(done, 300)));
  await shoot(page, "paths");
  await page.emulateMedia({ colorScheme: "light" });
  await stepped.send("PUT", "/api/gear/apps/harbour-call/ports/mic", { choice: { type: "default", calls: true } });
  await stepped.send("PATCH", "/api/gear/apps/record-shelf", { volume: -9 });
  await page.goto(`${stepped.url}/gear?open=cards`);
  await expect(page.getByText("2 of 7 are not so yet.")).toBeVisible();
  await shoot(page, "cards");
});

test("the bench", async ({ page, stepped }) => {
  await page.emulateMedia({ colorScheme: "light" });
  await openDesk(page, stepped);
  for (let i = 0; i < 30; i++) await stepped.step(0.7);
  await page.getByRole("link", { name: "Voice" }).click();
  await page.getByRole("button", { name: "Bench", exact: true }).click();
  await page.getByRole("button", { name: "The last 20 seconds" }).click();
  for (const preset of [/^Voice, close/, /^Voice, noisy room/]) {
    await page.getByRole("button", { name: "Variant", exact: true }).click();
    await page.getByRole("menuitem", { name: preset }).click();
    await expect(
      page
        .getByRole("group", { name: "Hear, for yourself alone" })
        .getByRole("button", { name: preset.source.slice(1) }),
    ).toBeVisible();
  }
  await page.getByRole("radio", { name: "Compare" }).click();
  await expect(page.getByRole("row", { name: /^Voice, noisy room/ })).toContainText("−");
  await stepped.step(7);
  await shoot(page, "voice-bench");
});

test("the guided clean-up", async ({ page, stepped }, info) => {
  await page.emulateMedia({ colorScheme: "dark" });
  await openDesk(page, stepped);

  // Somebody of the demo in a room that hums; before they begin, six seconds of the room alone.
  await stepped.step(5);
  const said = (await record(page, stepped, 16))("Co-host mic").left;
  const draw = noise(5);
  const file = info.outputPath("Second guest.wav");
  writeWav(file, 22, (n) => {
    const hum =
      0.0012 * Math.sin((2 * Math.PI * 50 * n) / 48_000) + 0.0009 * Math.sin((2 * Math.PI * 150 * n) / 48_000);
    return hum + 0.0012 * draw() + (n > 6 * 48_000 ? (said[n - 6 * 48_000] ?? 0) / 2 ** 23 : 0);
  });
  const source = await addFile(stepped, file);
  for (let i = 0; i < 2; i++) await stepped.step(0.3);
  await page.goto(`${stepped.url}/voice?at=source/${source}`);
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
  await expect(dialog.getByRole("button", { name: "I have read it" })).toBeDisabled();
  for (let i = 0; i < 10; i++) await stepped.step(1);
  await dialog.getByRole("button", { name: "I have read it" }).click();
  await expect(dialog.getByRole("button", { name: "Once more" })).toBeVisible();
  await shoot(page, "voice-guided");
});

test("pads, and the cue list beside them", async ({ page, stepped }) => {
  await page.emulateMedia({ colorScheme: "dark" });
  await openDesk(page, stepped);
  await stepped.step(30);
  const cues: [name: string, acts: object[], more: object][] = [
    ["Opening", [{ type: "play", pad: "foghorn" }], { notes: "Wait for the red light." }],
    ["Rain", [{ type: "play", pad: "rain" }], { begin: "AfterPrevious", wait: 1000 }],
    [
      "The guest",
      [
        { type: "play", pad: "bell" },
        { type: "levels", levels: [{ mix: "viewers", source: "record-shelf", gain: -18 }], over: 2000 },
        { type: "mark", words: "The guest" },
      ],
      { notes: "Ask about the keeper of 1911." },
    ],
    [
      "Sea walk",
      [
        { type: "play", pad: "gulls" },
        { type: "turn", pad: "rain", gain: -24, over: 4000 },
      ],
      {},
    ],
    [
      "Good night",
      [
        { type: "stop", fade: 3000 },
        { type: "music", source: "record-shelf", on: false, over: 8000 },
      ],
      {},
    ],
  ];
  for (const [name, acts, more] of cues) {
    const show = (await stepped.send("POST", "/api/shows/LIVE/cues", { name, acts })) as { cues: { id: string }[] };
    await stepped.send("PATCH", `/api/shows/LIVE/cues/${show.cues.at(-1)?.id}`, more);
  }
  await page.getByRole("link", { name: "Pads" }).click();
  await expect(page.getByRole("button", { name: /^Bell, on B/ })).toBeVisible();
  await page.keyboard.press("f");
  await page.keyboard.press("a");
  await expect
    .poll(async () => {
      await stepped.step(0.1);
      return page.locator("[data-key] [data-sounds]").count();
    })
    .toBe(2);
  await stepped.step(1.6);
  await page.getByRole("radio", { name: "Arrange" }).click();
  await page.getByRole("button", { name: /^Foghorn, on F/ }).click();
  await expect(page.getByText(/^Loudest moment/)).toBeVisible();
  await stepped.step(0.2);
  await shoot(page, "pads");
  await page.keyboard.press("Escape");
  await page.getByRole("radio", { name: "Play" }).click();
  await page.getByRole("button", { name: "Cues" }).click();
  await page.getByRole("button", { name: "Go on" }).click();
  await expect(page.getByText(/^by itself in/)).toBeVisible();
  await stepped.step(1);
  await shoot(page, "cues");
});

test.describe("away from the keyboard", () => {
  test.use({ ignoreHTTPSErrors: true });

  test("a phone as a board, and the small window", async ({ page, stepped, context }) => {
    await openDesk(page, stepped);
    await stepped.step(13.5);
    await stepped.send("PATCH", "/api/second-screen", {
      on: true,
      port: 5872,
      addresses: ["127.0.0.1"],
      passphrase: "lantern-harbour",
      rights: {
        pads: true,
        cues: false,
        hush: true,
        record: false,
        voices: ["host-mic"],
        talkTo: [],
        lanes: ["my-ears"],
      },
    });
    const phone = await context.newPage();
    await phone.setViewportSize({ width: 390, height: 844 });
    await phone.goto("https://127.0.0.1:5872/");
    await phone.getByLabel("Passphrase").fill("lantern-harbour");
    await phone.keyboard.press("Enter");
    const bell = phone.getByRole("button", { name: /^Rain on glass/ });
    await bell.click();
    await expect
      .poll(async () => {
        await stepped.step(0.2);
        return phone.locator("[data-sounds]").count();
      })
      .toBe(1);
    await stepped.step(1);
    await phone.evaluate(() => document.fonts.ready);
    await phone.waitForTimeout(400);
    await phone.screenshot({ path: resolve(folder, "second-screen.png") });
    await phone.close();

    const opened = context.waitForEvent("page");
    await page.keyboard.press("?");
    await page.getByRole("button", { name: "Hands" }).click();
    await page.getByRole("button", { name: "Open the small window" }).click();
    const small = await opened;
    await small.setViewportSize({ width: 300, height: 310 });
    await expect(small.getByText("Viewers")).toBeVisible();
    await stepped.send("POST", "/api/takes", {});
    await stepped.step(12);
    await stepped.send("POST", "/api/takes/current/marks", { words: "The guest laughs" });
    await stepped.step(3);
    await expect(small.getByText("1 mark, the last at 0:12 The guest laughs")).toBeVisible();
    await small.waitForTimeout(600);
    await small.screenshot({ path: resolve(folder, "small-window.png") });
    await stepped.send("POST", "/api/takes/current/stop", {});
  });
});
