import { createSocket } from "node:dgram";
import { readFileSync } from "node:fs";
import type { Locator, Page } from "@playwright/test";
import { expect, marker, openDesk, test } from "./support/fixtures.ts";
import { freePort } from "./support/ports.ts";
import type { Server } from "./support/server.ts";

const statusOf = async (server: Server) =>
  (await server.get("/api/status")) as { hushed: boolean; recordingTake: string | null };
const hushed = async (server: Server) => (await statusOf(server)).hushed;
const holds = async (server: Server) =>
  ((await server.get("/api/hands")) as { holds: { address: string; words: string }[] }).holds;
const sourcesOf = async (server: Server) =>
  ((await server.get("/api/shows/live")) as { sources: { id: string; name: string }[] }).sources;

/** Lets a part of the page come no sooner than that is said. */
async function late(page: Page, part: RegExp, method = "GET") {
  let come: () => void = () => undefined;
  const said = new Promise<void>((then) => {
    come = then;
  });
  await page.route(part, async (route) => {
    if (route.request().method() === method) await said;
    await route.continue();
  });
  return come;
}

/** What opens beside something is beside it, and within the window, at whatever size everything is shown. */
async function opensBeside(page: Page, by: Locator) {
  // While it is open nothing else is there for who finds things by their roles.
  const button = await by.boundingBox();
  await by.click();
  const menu = await page.getByRole("menu").boundingBox();
  if (!menu || !button) throw new Error("There is no menu, or no button.");
  expect(Math.min(menu.x, menu.y)).toBeGreaterThanOrEqual(0);
  expect(menu.x + menu.width).toBeLessThanOrEqual(1280);
  expect(menu.y + menu.height).toBeLessThanOrEqual(800);
  const across = Math.max(button.x - menu.x - menu.width, menu.x - button.x - button.width);
  const down = Math.max(button.y - menu.y - menu.height, menu.y - button.y - button.height);
  expect(Math.max(across, down)).toBeLessThanOrEqual(12);
}

const palette = (page: Page) => page.getByRole("dialog", { name: "Find something to do" });

/** Finds an action by typing, and does it. */
async function find(page: Page, words: string) {
  await page.keyboard.press("Control+k");
  await expect(palette(page).getByRole("combobox")).toBeFocused();
  await page.keyboard.type(words);
  await expect(palette(page).getByRole("option").first()).toBeVisible();
  await page.keyboard.press("Enter");
}

test("whatever can be done is found by typing, and done with the keyboard alone", async ({ page, stepped }) => {
  await openDesk(page, stepped);
  await find(page, "go pads");
  await expect(page.getByRole("heading", { name: "Pads", exact: true })).toBeVisible();
  await find(page, "hush");
  await expect.poll(() => hushed(stepped)).toBe(true);
  await find(page, "hush");
  await expect.poll(() => hushed(stepped)).toBe(false);

  // A level asks for its number, and is one step of the show.
  const [first] = await sourcesOf(stepped);
  await find(page, `level of ${first?.name} viewers`);
  await expect(palette(page).getByText("How many dB?")).toBeVisible();
  await page.keyboard.type(" -7");
  await page.keyboard.press("Enter");
  await expect(palette(page)).toBeHidden();
  await expect
    .poll(async () => {
      const show = (await stepped.get("/api/shows/live")) as {
        mixes: { id: string; sends: { source: string; gain: number }[] }[];
      };
      return show.mixes.find((m) => m.id === "viewers")?.sends.find((s) => s.source === first?.id)?.gain;
    })
    .toBe(-7);

  // What is not there is said, and letters typed into the field do nothing else.
  await page.keyboard.press("Control+k");
  await page.keyboard.type("hrq nothing like this");
  await expect(palette(page).getByText("Nothing is called so.")).toBeVisible();
  await page.keyboard.press("Enter");
  expect(await statusOf(stepped)).toMatchObject({ hushed: false, recordingTake: null });
  await page.keyboard.press("Escape");
  await expect(palette(page)).toBeHidden();
});

test("with quick hands no letter is lost before the palette is there, and none does anything else", async ({
  page,
  stepped,
}) => {
  await openDesk(page, stepped);
  const come = await late(page, /Palette.*\.js$/);
  await page.keyboard.press("Control+k");
  await page.keyboard.type("hrxx");
  for (let i = 0; i < 3; i++) await page.keyboard.press("Backspace");
  await page.keyboard.type("ush silence");
  await page.keyboard.press("Enter");
  come();
  await expect.poll(() => hushed(stepped)).toBe(true);
  expect((await statusOf(stepped)).recordingTake).toBeNull();
  await expect(palette(page)).toBeHidden();
  await page.keyboard.press("Control+k");
  await page.keyboard.type("hush");
  await expect(palette(page).getByRole("combobox")).toHaveValue("hush");
  await page.keyboard.press("Escape");
});

test("a key held down coughs, and letting go, or leaving the window, ends it", async ({ page, stepped }) => {
  await openDesk(page, stepped);
  const [first] = await sourcesOf(stepped);
  await page.keyboard.press("?");
  const dialog = page.getByRole("dialog", { name: "All keys" });
  await dialog.getByRole("searchbox", { name: "Find an action" }).fill(`cough ${first?.name}`);
  const key = dialog.getByRole("button", { name: /^Key of: Cough/ });
  await key.click();

  // A key that is taken is said with what it does; another is free.
  await page.keyboard.press("r");
  await expect(dialog.getByText("R does something already: Record, and end the take.")).toBeVisible();
  await page.keyboard.press("Escape");
  await expect(dialog).toBeVisible();
  await key.click();
  await page.keyboard.press("F4");
  await expect(key).toHaveText("F4");
  await page.keyboard.press("Escape");
  await expect(dialog).toBeHidden();

  await page.keyboard.down("F4");
  await expect.poll(async () => (await holds(stepped)).map((h) => h.address)).toEqual([`source/${first?.id}/cough`]);
  await expect(page.getByText(`${first?.name} reaches nobody but you`)).toBeVisible();
  await page.keyboard.up("F4");
  await expect.poll(async () => (await holds(stepped)).length).toBe(0);
  await expect(page.getByText(`${first?.name} reaches nobody but you`)).toBeHidden();

  await page.keyboard.down("F4");
  await expect.poll(async () => (await holds(stepped)).length).toBe(1);
  await page.evaluate(() => window.dispatchEvent(new Event("blur")));
  await expect.poll(async () => (await holds(stepped)).length).toBe(0);

  // And with the window itself.
  await page.keyboard.up("F4");
  await page.keyboard.down("F4");
  await expect.poll(async () => (await holds(stepped)).length).toBe(1);
  await page.close();
  await expect.poll(async () => (await holds(stepped)).length).toBe(0);
});

test("keys are exported, and a file of them acts again; one that holds none is refused with words", async ({
  page,
  stepped,
}) => {
  await openDesk(page, stepped);
  await page.keyboard.press("?");
  const dialog = page.getByRole("dialog", { name: "All keys" });
  const key = dialog.getByRole("button", { name: /^Key of: Hush/ });
  await key.click();
  await page.keyboard.press("q");
  await expect(key).toHaveText("Q");
  const saved = page.waitForEvent("download");
  await dialog.getByRole("button", { name: "Export" }).click();
  const file = await (await saved).path();
  expect(JSON.parse(readFileSync(file, "utf8")).chosen).toEqual({ hush: ["q"] });
  await dialog.getByRole("button", { name: "All as they come" }).click();
  await expect(key).toHaveText("H");
  await dialog
    .getByLabel("A file of keys")
    .setInputFiles({ name: "none.json", mimeType: "application/json", buffer: Buffer.from("[1]") });
  await expect(page.getByText("This file holds no keys.").first()).toBeVisible();
  await expect(key).toHaveText("H");
  await dialog.getByLabel("A file of keys").setInputFiles(file);
  await expect(key).toHaveText("Q");
});

test("a key rests in a text field, and with quick hands none is lost while the page comes", async ({
  page,
  stepped,
}) => {
  await openDesk(page, stepped);
  await page.keyboard.press("?");
  const dialog = page.getByRole("dialog", { name: "All keys" });
  await dialog.getByRole("searchbox").fill("h");
  await page.keyboard.type("hrh");
  expect(await statusOf(stepped)).toMatchObject({ hushed: false, recordingTake: null });
  await page.keyboard.press("Escape");

  // What keys do comes after the first picture: here, late.
  const come = await late(page, /HandKeys.*\.js$/);
  await page.reload();
  await expect(page.getByRole("region", { name: "What Viewers gets" })).toBeVisible();
  await page.keyboard.press("h");
  expect(await hushed(stepped)).toBe(false);
  come();
  await expect.poll(() => hushed(stepped)).toBe(true);
});

test("messages and commands do the same actions as the page, once they are switched on there", async ({
  page,
  stepped,
}) => {
  await openDesk(page, stepped);
  await find(page, "choose keys controllers");
  const dialog = page.getByRole("dialog", { name: "Hands" });
  const port = await freePort();
  const field = dialog.getByRole("region", { name: "Messages: Open Sound Control" }).getByLabel("Port");
  await field.fill("80");
  await field.press("Enter");
  await expect(dialog.getByText("A number from 1024 to 65535.")).toBeVisible();
  // Two presses while the server's word is slow: both stay as they were pressed.
  const come = await late(page, /\/api\/hands$/);
  const taken = page.waitForResponse((r) => r.url().endsWith("/api/hands/osc"));
  await field.fill(`${port}`);
  await field.press("Enter");
  await taken;
  await expect(field).toHaveValue(`${port}`);
  const ticked = dialog.getByRole("checkbox", { name: "Listen for messages" });
  await ticked.check();
  await expect(ticked).toBeChecked();
  come();
  await expect(dialog.getByText(`Heard at 127.0.0.1, port ${port}`)).toBeVisible();
  const socket = createSocket("udp4");
  // "/kinetra/hush" and T: switched on.
  socket.send(Buffer.from("/kinetra/hush\0\0\0,T\0\0"), port, "127.0.0.1");
  await expect.poll(() => hushed(stepped)).toBe(true);
  socket.send(Buffer.from("/kinetra/nothing\0\0\0\0,T\0\0"), port, "127.0.0.1");
  await expect(dialog.getByText("There is no action “nothing”")).toBeVisible();
  socket.close();

  await dialog.getByRole("button", { name: "Make a token" }).click();
  const address = (await dialog.getByText(/\/api\/do\/hush\?token=/).innerText()).trim();
  expect((await fetch(address)).status).toBe(204);
  await expect.poll(() => hushed(stepped)).toBe(false);
  expect((await fetch(address.replace(/token=.*/, "token=other"))).status).toBe(401);
  await dialog.getByRole("button", { name: "Take no commands" }).click();
  await expect(dialog.getByRole("button", { name: "Make a token" })).toBeVisible();
  expect((await fetch(address)).status).toBe(401);
});

test("a pad is played from any screen with Alt and its key, and not by the key alone", async ({ page, own }) => {
  const seconds = 2;
  const wav = Buffer.alloc(44 + 2 * 48000 * seconds);
  wav.write("RIFF", 0);
  wav.writeUInt32LE(wav.length - 8, 4);
  wav.write("WAVEfmt ", 8);
  wav.writeUInt32LE(16, 16);
  wav.writeUInt16LE(1, 20);
  wav.writeUInt16LE(1, 22);
  wav.writeUInt32LE(48000, 24);
  wav.writeUInt32LE(96000, 28);
  wav.writeUInt16LE(2, 32);
  wav.writeUInt16LE(16, 34);
  wav.write("data", 36);
  wav.writeUInt32LE(wav.length - 44, 40);
  for (let i = 0; i < 48000 * seconds; i++) wav.writeInt16LE(Math.round(8000 * Math.sin(i / 10)), 44 + 2 * i);
  await openDesk(page, own);
  await page.getByRole("link", { name: "Pads" }).click();
  await page.getByRole("button", { name: "Begin a set" }).click();
  await page
    .getByLabel("Sound files", { exact: true })
    .setInputFiles({ name: "bell.wav", mimeType: "audio/wav", buffer: wav });
  await expect(page.getByRole("button", { name: /^bell, on A/ })).toBeVisible();
  await page.getByRole("link", { name: "Desk" }).click();
  await expect(page.getByRole("region", { name: "What Viewers gets" })).toBeVisible();
  const sounds = page.getByRole("button", { name: /^bell, on A/ }).and(page.locator("[data-sounds]"));
  await page.keyboard.press("a");
  await own.step(0.1);
  await page.getByRole("link", { name: "Pads" }).click();
  await expect(page.getByRole("button", { name: /^bell, on A/ })).toBeVisible();
  await own.step(0.1);
  await expect(sounds).toHaveCount(0);
  await page.getByRole("link", { name: "Desk" }).click();
  await expect(page.getByRole("region", { name: "What Viewers gets" })).toBeVisible();
  await page.keyboard.press("Alt+a");
  await page.getByRole("link", { name: "Pads" }).click();
  await expect
    .poll(async () => {
      await own.step(0.05);
      return sounds.isVisible();
    })
    .toBe(true);
});

test.describe("on a phone", () => {
  test.use({ ignoreHTTPSErrors: true });

  test("a second screen is let in by its passphrase over TLS, does what it was given, and is thrown out", async ({
    page,
    own,
    context,
  }) => {
    await openDesk(page, own);
    const [first] = await sourcesOf(own);
    const port = await freePort();
    await find(page, "choose keys controllers");
    const hands = page.getByRole("dialog", { name: "Hands" });
    const part = hands.getByRole("region", { name: "A second screen" });
    await part.getByRole("checkbox", { name: /^127\.0\.0\.1/ }).check();
    for (const box of await part.getByRole("checkbox", { name: /^(?!127\.0\.0\.1)\d+\./ }).all()) await box.uncheck();
    await part.getByLabel("Port").fill(`${port}`);
    await part.getByLabel("Port").press("Enter");

    // Two rights while the answers are slow, and what the server says meanwhile is of before: both are given.
    const come = await late(page, /second-screen$/, "PATCH");
    const hush = part.getByRole("checkbox", { name: "Hush" });
    await hush.check();
    const ofBefore = page.waitForResponse((r) => r.url().endsWith("/second-screen") && r.request().method() === "GET");
    await own.send("POST", "/api/hands/token", {});
    await ofBefore;
    await part
      .getByRole("checkbox", { name: first?.name ?? "", exact: true })
      .first()
      .check();
    await expect(hush).toBeChecked();
    come();
    await expect
      .poll(async () => (await own.get("/api/second-screen")) as object)
      .toMatchObject({ rights: { hush: true, voices: [first?.id] } });
    await expect(hush).toBeChecked();
    const passphrase = part.getByLabel(/^Passphrase/);
    await passphrase.fill("short");
    await expect(part.getByRole("button", { name: "Let second screens in" })).toBeDisabled();
    await passphrase.fill("lantern-harbour");
    await passphrase.press("Enter");
    await expect(part.getByRole("img", { name: `A code for https://127.0.0.1:${port}/` })).toBeVisible();

    const phone = await context.newPage();
    await phone.setViewportSize({ width: 390, height: 844 });
    await phone.goto(`https://127.0.0.1:${port}/`);
    await phone.getByLabel("Passphrase").fill("lantern-lighthouse");
    await phone.keyboard.press("Enter");
    await expect(phone.getByText("This is not the passphrase.")).toBeVisible();
    await phone.getByLabel("Passphrase").fill("lantern-harbour");
    await phone.keyboard.press("Enter");
    await expect(phone.getByRole("button", { name: "Hush" })).toBeVisible();
    await expect(phone.getByRole("button", { name: "Record" })).toHaveCount(0);
    expect(await phone.evaluate(() => document.documentElement.scrollWidth)).toBeLessThanOrEqual(390);

    await phone.getByRole("button", { name: "Hush" }).click();
    await expect(phone.getByRole("button", { name: "Hushed" })).toBeVisible();
    expect(await hushed(own)).toBe(true);
    await phone.getByRole("button", { name: "Hushed" }).click();
    await expect.poll(() => hushed(own)).toBe(false);

    const cough = phone.getByRole("button", { name: /^Cough / });
    const box = await cough.boundingBox();
    await phone.mouse.move((box?.x ?? 0) + 20, (box?.y ?? 0) + 20);
    await phone.mouse.down();
    await expect.poll(async () => (await holds(own)).length).toBe(1);
    await phone.mouse.up();
    await expect.poll(async () => (await holds(own)).length).toBe(0);

    // With the keyboard alone too; and who is thrown out lets go.
    await cough.focus();
    await phone.keyboard.down(" ");
    await expect.poll(async () => (await holds(own)).length).toBe(1);
    await part.getByRole("button", { name: /^Throw .* out$/ }).click();
    await expect.poll(async () => (await holds(own)).length).toBe(0);
    await expect(phone.getByLabel("Passphrase")).toBeVisible();
    await expect(part.getByRole("button", { name: /^Throw .* out$/ })).toHaveCount(0);
  });
});

/** A controller of one input and one output in place of the browser's: bytes are given to it as a device would send them, and what it is sent is kept. */
async function plugIn(page: Page) {
  await page.addInitScript(() => {
    const sent: number[][] = [];
    const input = { name: "Twelve knobs", state: "connected", onmidimessage: null as ((e: unknown) => void) | null };
    const output = { name: "Twelve knobs", state: "connected", send: (bytes: number[]) => sent.push([...bytes]) };
    const access = {
      inputs: new Map([["a", input]]),
      outputs: new Map([["b", output]]),
      onstatechange: null as (() => void) | null,
    };
    Object.assign(window, {
      giveMidi: (...bytes: number[]) => input.onmidimessage?.({ data: Uint8Array.from(bytes) }),
      sentMidi: sent,
      pullMidi: () => {
        input.state = "disconnected";
        access.onstatechange?.();
      },
    });
    navigator.requestMIDIAccess = () => Promise.resolve(access as unknown as MIDIAccess);
  });
}

const give = (page: Page, ...bytes: number[]) =>
  page.evaluate((b) => (window as unknown as { giveMidi: (...b: number[]) => void }).giveMidi(...b), bytes);

const sent = (page: Page) => page.evaluate(() => (window as unknown as { sentMidi: number[][] }).sentMidi);

test("a controller is taught by moving it: a button mutes and lights, a fader takes hold where it meets the level, and nonsense does nothing", async ({
  page,
  stepped,
}) => {
  await plugIn(page);
  await openDesk(page, stepped);
  const [first] = await sourcesOf(stepped);
  const sendNow = async () => {
    const show = (await stepped.get("/api/shows/live")) as {
      revision: number;
      mixes: { id: string; sends: { source: string; gain: number; muted: boolean }[] }[];
    };
    const send = show.mixes.find((m) => m.id === "viewers")?.sends.find((s) => s.source === first?.id);
    return { gain: send?.gain, muted: send?.muted, revision: show.revision };
  };
  await stepped.send("PATCH", `/api/shows/LIVE/mixes/viewers/sends/${first?.id}`, { gain: 0 });
  await find(page, "choose keys controllers");
  const part = page.getByRole("dialog", { name: "Hands" }).getByRole("region", { name: "Controllers: MIDI" });
  await part.getByRole("button", { name: "Use controllers in this window" }).click();
  await expect(part.getByText("Twelve knobs")).toBeVisible();
  const teach = async (words: string, ...bytes: number[]) => {
    await part.getByRole("searchbox").fill(words);
    await part.getByRole("list", { name: "What a control can do" }).getByRole("button").first().click();
    await expect(part.getByText("Now move the control")).toBeVisible();
    await give(page, ...bytes);
    await expect(part.getByText("Now move the control")).toBeHidden();
  };
  await teach(`mute ${first?.name} viewers`, 0x90, 10, 127);
  await teach(`level of ${first?.name} in viewers`, 0xb0, 7, 30);
  await expect(part.getByText("Twelve knobs: controller 7", { exact: true })).toBeVisible();
  await give(page, 0x80, 10, 0);
  await page.keyboard.press("Escape");

  // A button: pressed once, muted; its light follows, whoever mutes.
  await give(page, 0x90, 10, 100, 0x90, 10, 0);
  await expect.poll(async () => (await sendNow()).muted).toBe(true);
  await expect.poll(async () => (await sent(page)).some((b) => b.join() === "144,10,127")).toBe(true);
  await stepped.send("PATCH", `/api/shows/LIVE/mixes/viewers/sends/${first?.id}`, { muted: false });
  await expect.poll(async () => (await sent(page)).at(-1)?.join()).toBe("144,10,0");

  // A fader: below the level it does nothing; once it has met it, it leads, and all of it is one step.
  const before = await sendNow();
  for (const value of [30, 40, 60]) await give(page, 0xb0, 7, value);
  await stepped.step(0.1);
  expect((await sendNow()).gain).toBe(0);
  for (const value of [80, 96, 100, 110, 80, 60]) await give(page, 0xb0, 7, value);
  await expect.poll(async () => (await sendNow()).gain).toBeCloseTo(-60 * (1 - 60 / 127 / 0.75), 0);
  expect((await sendNow()).revision).toBe(before.revision + 1);

  // Pulled out while a button is down: nobody would hear it go up.
  await find(page, "choose keys controllers");
  await teach(`cough ${first?.name}`, 0x90, 20, 127);
  await page.keyboard.press("Escape");
  await give(page, 0x80, 20, 0, 0x90, 20, 90);
  await expect.poll(async () => (await holds(stepped)).length).toBe(1);
  await page.evaluate(() => (window as unknown as { pullMidi: () => void }).pullMidi());
  await expect.poll(async () => (await holds(stepped)).length).toBe(0);

  // Bytes that are none, and a burst of them.
  await give(page, 0xff, 1, 2, 0xf0, 9, 9, 0xb0, 0x90, 0x90);
  await give(page, 0xf7, 0, 0, 0);
  await give(page, 0x90, 10, 100);
  await expect.poll(async () => (await sendNow()).muted).toBe(true);
});

test("one window at a time has the controllers, another can take them over, and a profile is kept as a file", async ({
  page,
  stepped,
  context,
}) => {
  await plugIn(page);
  await openDesk(page, stepped);
  const part = (on: Page) =>
    on.getByRole("dialog", { name: "Hands" }).getByRole("region", { name: "Controllers: MIDI" });
  await find(page, "choose keys controllers");
  await part(page).getByRole("button", { name: "Use controllers in this window" }).click();
  await expect(part(page).getByText("Twelve knobs")).toBeVisible();
  const profile = { bindings: [{ device: "Twelve knobs", control: "note/1/1", address: "hush" }] };
  const file = (content: unknown) => ({
    name: "profile.json",
    mimeType: "application/json",
    buffer: Buffer.from(JSON.stringify(content)),
  });
  await part(page)
    .getByLabel("A profile of controllers")
    .setInputFiles(file({ bindings: [{ device: "x", control: "no", address: "hush" }] }));
  await expect(page.getByText("“no” is no control.").first()).toBeVisible();
  await part(page).getByLabel("A profile of controllers").setInputFiles(file(profile));
  await expect(part(page).getByText("Hush: silence for every listener")).toBeVisible();

  const other = await context.newPage();
  await plugIn(other);
  await openDesk(other, stepped);
  await find(other, "choose keys controllers");
  await expect(part(other).getByText("Another window of this browser has them.")).toBeVisible();
  await part(other).getByRole("button", { name: "Take them over" }).click();
  await expect(part(other).getByText("Twelve knobs").first()).toBeVisible();
  await expect(part(page).getByText("Another window of this browser has them.")).toBeVisible();
  await give(page, 0x90, 1, 100);
  await give(other, 0x90, 1, 100);
  await expect.poll(() => hushed(stepped)).toBe(true);
});

test("the small window shows what one needs and does it; closing it lets go", async ({ page, stepped, context }) => {
  await openDesk(page, stepped);
  await page.keyboard.press("?");
  await page.getByRole("button", { name: "Hands" }).click();
  const opened = context.waitForEvent("page");
  await page.getByRole("button", { name: "Open the small window" }).click();
  const small = await opened;
  await expect(small.getByText("Viewers")).toBeVisible();
  await stepped.step(4);
  await expect(small.getByText(/^−\d+\.\d LUFS$/).first()).toBeVisible();
  await small.getByRole("button", { name: "Hush" }).click();
  await expect.poll(() => hushed(stepped)).toBe(true);
  await stepped.step(0.1);
  await small.getByRole("button", { name: "Hushed" }).click();
  await expect.poll(() => hushed(stepped)).toBe(false);
  await expect(small.getByRole("button", { name: "Mark" })).toHaveCount(0);
  await small.getByRole("button", { name: "Record" }).click();
  await expect.poll(async () => (await statusOf(stepped)).recordingTake).not.toBeNull();
  await stepped.step(2);
  await small.getByRole("button", { name: "Mark" }).click();
  await expect(small.getByText(/^1 mark, the last at 0:0\d/)).toBeVisible();
  await small.getByRole("button", { name: "Stop" }).click();
  const cough = small.getByRole("button", { name: /^Cough / }).first();
  await cough.focus();
  await small.keyboard.down("Enter");
  await expect.poll(async () => (await holds(stepped)).length).toBe(1);
  await small.close();
  await expect.poll(async () => (await holds(stepped)).length).toBe(0);
  await expect(page.getByRole("button", { name: "Open the small window" })).toBeVisible();
});

test("everything is shown from 80 to 200 %, kept over a reload, and nothing leaves the window", async ({
  page,
  stepped,
}) => {
  await openDesk(page, stepped);
  await page.keyboard.press("?");
  await page.getByRole("button", { name: "Hands" }).click();
  for (const size of ["200 %", "80 %", "150 %"]) {
    const by = page.getByRole("button", { name: /^Size: / });
    await opensBeside(page, by);
    await page.getByRole("menuitem", { name: size }).click();
    await expect(page.getByRole("button", { name: `Size: ${size}` })).toBeVisible();
    expect(
      await page.evaluate(() => document.documentElement.scrollWidth - window.innerWidth),
      size,
    ).toBeLessThanOrEqual(0);
  }
  await page.reload();
  const size = page.getByRole("button", { name: "Size: 150 %" });
  await opensBeside(page, size);
  await page.keyboard.press("Escape");
  await expect(size).toBeVisible();
  await page.keyboard.press("Escape");

  // A marker is dragged by what is under the pointer, at this size too: as far as it goes, so much louder.
  await stepped.step(14);
  const handle = marker(page, "Host mic", "Viewers");
  await handle.scrollIntoViewIfNeeded();
  const sendOf = async () => {
    const show = (await stepped.get("/api/shows/live")) as {
      mixes: { id: string; sends: { source: string; gain: number }[] }[];
    };
    return show.mixes.find((m) => m.id === "viewers")?.sends.find((s) => s.source === "host-mic")?.gain ?? Number.NaN;
  };
  const [from, gain] = [await handle.boundingBox(), await sendOf()];
  const [x, y] = [(from?.x ?? 0) + (from?.width ?? 0) / 2, (from?.y ?? 0) + 8];
  await page.mouse.move(x, y);
  await page.mouse.down();
  await page.mouse.move(x - 60, y, { steps: 6 });
  await page.mouse.up();
  await expect.poll(sendOf).toBeLessThan(gain - 1);
  await page.evaluate(() => new Promise((then) => requestAnimationFrame(() => requestAnimationFrame(then))));
  const to = await handle.boundingBox();
  expect((to?.x ?? 0) - (from?.x ?? 0)).toBeCloseTo(-60, -1);
  await find(page, "as large as it comes");
  await expect.poll(() => page.evaluate(() => document.documentElement.style.zoom)).toBe("");
});
