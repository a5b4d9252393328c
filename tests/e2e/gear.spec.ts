import { expect, openDesk, pick, sourceItem, test } from "./support/fixtures.ts";
import { gearOf, openGear, peaks, type Show, sentence } from "./support/gear.ts";
import { addTone, hearOnly, newestTake, record, rms } from "./support/sound.ts";

// The computer is the server's: each test has one of its stepped.

test("a program is taken in by a new cable that is offered by name, and is heard at the desk", async ({
  page,
  stepped,
}) => {
  await openGear(page, stepped);
  await sentence(page, "Harbour browser").getByRole("button", { name: "Start Harbour browser" }).click();
  await sentence(page, "Harbour browser").getByRole("button", { name: "Play Harbour browser" }).click();
  const word = sentence(page, "Harbour browser").getByRole("button", { name: /plays its sound into/ });
  await expect(word).toHaveText("the default: Headset");
  await pick(word, "A new cable: Harbour browser cable");
  await expect(word).toHaveText("Harbour browser cable");
  const show = (await stepped.get("/api/shows/live")) as Show;
  await stepped.send("POST", "/api/shows/LIVE/sources/taken", {
    input: { type: "cable", cable: show.cables[0]?.id, left: 0, right: 1 },
    name: "The tide tables",
  });
  await page.getByRole("link", { name: "Desk" }).click();
  await expect(sourceItem(page, "The tide tables")).toBeVisible();
  await stepped.step(1);
  const take = await record(page, stepped, 2);
  expect(rms(take("The tide tables").left)).toBeGreaterThan(-50);
});

test("a sound that the desk alone has is heard again where it played, with one choice", async ({ page, stepped }) => {
  await openGear(page, stepped);
  const headset = "device/headset/out";
  await stepped.step(2);
  expect((await peaks(page, [headset]))[0]).toBeLessThan(-100);
  await pick(sentence(page, "Record shelf").getByRole("button", { name: /only to the desk/ }), /still where it plays/);
  await expect(sentence(page, "Record shelf")).toContainText(
    "to the desk as Record shelf and into the default: Headset",
  );
  await stepped.step(2);
  expect((await peaks(page, [headset]))[0]).toBeGreaterThan(-40);
});

test("a default that a new cable has stolen is told in the sentence and in the bar, and put back by keys alone", async ({
  page,
  stepped,
}) => {
  await openGear(page, stepped);
  await pick(page.getByRole("button", { name: "calls play on: Headset" }), "This show wants it so");
  await expect
    .poll(async () => ((await stepped.get("/api/shows/live")) as { wishes: { roles: unknown[] } }).wishes.roles.length)
    .toBe(1);
  await stepped.send("POST", "/api/shows/LIVE/cables", { name: "Thief" });
  await expect(page.getByRole("button", { name: "1 thing is not as this show wants it" })).toBeVisible();
  await expect(page.getByText("this show wants Headset")).toBeVisible();
  const back = page.getByRole("button", { name: "Put back: calls play on Headset" });
  await page.getByRole("button", { name: "calls play on: Thief" }).focus();
  await page.keyboard.press("Tab");
  await expect(back).toBeFocused();
  await page.keyboard.press("Enter");
  await expect(page.getByRole("button", { name: "calls play on: Headset" })).toBeVisible();
  await expect(page.getByRole("button", { name: /not as this show wants/ })).toBeHidden();
});

test("a program that sees a cable only after its restart says so, and takes it with one", async ({ page, stepped }) => {
  await openGear(page, stepped);
  await expect(sentence(page, "Beacon encoder").getByRole("button", { name: "End Beacon encoder" })).toBeVisible();
  const show = (await stepped.send("POST", "/api/shows/LIVE/cables", { name: "Viewers cable" })) as Show;
  const word = sentence(page, "Beacon encoder").getByRole("button", { name: /its first sound, takes/ });
  await word.click();
  const item = page.getByRole("menuitem", { name: /^Out of Viewers cable/ });
  await expect(item).toContainText("It sees this after a restart");
  await item.click();
  await expect(word).toHaveText("Viewers cable");
  const encoder = (await gearOf(stepped)).apps.find((a) => a.id === "beacon-encoder");
  expect(encoder?.ports[0]?.end).toBe(`cable/${show.cables[0]?.id}`);
});

test("an interface that is unplugged in the midst of a take is told, leaves a gap of its own, and rejoins by itself", async ({
  page,
  stepped,
}) => {
  await openGear(page, stepped);
  await page.getByRole("button", { name: "Record", exact: true }).click();
  await expect
    .poll(async () => {
      await stepped.step(0.032);
      return page.getByRole("button", { name: /^Stop/ }).isVisible();
    })
    .toBe(true);
  await stepped.step(3);
  await page.getByRole("button", { name: "Unplug Desk interface" }).click();
  await expect(sentence(page, "Host mic")).toContainText("Desk interface is unplugged. It rejoins by itself.");
  await stepped.step(2);
  await page.getByRole("button", { name: "Plug in Desk interface" }).click();
  await expect(sentence(page, "Host mic")).not.toContainText("unplugged");
  await stepped.step(3);
  await page.getByRole("button", { name: /^Stop/ }).click();
  await expect.poll(async () => ((await stepped.get("/api/takes")) as { state: string }[])[0]?.state).toBe("Done");
  await stepped.step(0.1);
  const take = await newestTake(stepped);
  const [host, music] = [take("Host mic").left, take("Record shelf").left];
  expect(host.length).toBe(music.length);
  const loudest = (samples: Float64Array, from: number, to: number) =>
    samples.subarray(from * 48000, to * 48000).reduce((most, x) => Math.max(most, Math.abs(x)), 0);
  expect(loudest(host, 0, 3)).toBeGreaterThan(1000);
  expect(loudest(host, 3.5, 4.8)).toBe(0);
  expect(loudest(host, 5.5, 8)).toBeGreaterThan(1000);
  expect(loudest(music, 3.5, 4.8)).toBeGreaterThan(1000);
});

test("two people are two inputs of one interface, and another device in its place keeps the rest", async ({
  page,
  stepped,
}) => {
  await openGear(page, stepped);
  await pick(page.getByRole("button", { name: "Input of Sea mic: 3" }), /^2, as one mono voice/);
  await expect(sentence(page, "Sea mic")).toContainText("is input 2 of Desk interface, as one mono voice");
  await stepped.step(1);
  const both = await record(page, stepped, 6);
  expect(rms(both("Host mic").left)).toBeGreaterThan(-60);
  expect(rms(both("Sea mic").left)).toBeGreaterThan(-60);
  expect(both("Host mic").left).not.toEqual(both("Sea mic").left);
  const before = (await stepped.get("/api/shows/live")) as { mixes: { sends: { source: string; gain: number }[] }[] };
  await pick(page.getByRole("button", { name: "Device of Host mic: Desk interface" }), "Pier USB mic");
  await expect(sentence(page, "Host mic")).toContainText("of Pier USB mic");
  const after = (await stepped.get("/api/shows/live")) as typeof before;
  expect(after.mixes.map((m) => m.sends.map((s) => s.gain))).toEqual(
    before.mixes.map((m) => m.sends.map((s) => s.gain)),
  );
});

test("a mix goes to a headset, and to the room at its own, lower level, on and off by itself", async ({
  page,
  stepped,
}) => {
  await openGear(page, stepped);
  await hearOnly(stepped, "viewers", await addTone(stepped));
  const add = page.getByRole("button", { name: "Let Viewers go somewhere else too" });
  await pick(add, "Headset");
  await pick(add, "Laptop speakers");
  await pick(page.getByRole("button", { name: "Level of Viewers at Laptop speakers: 0.0 dB" }), "−20.0 dB");
  await expect(sentence(page, "Viewers")).toContainText(
    "goes to Headset at 0.0 dB on, and to Laptop speakers at −20.0 dB on.",
  );
  await stepped.step(3);
  const [ears = 0, room = 0] = await peaks(page, ["device/headset/out", "device/laptop-speakers/out"]);
  expect(ears).toBeGreaterThan(-60);
  expect(ears - room).toBeCloseTo(20, 1);
  await pick(page.getByRole("button", { name: "Viewers at Laptop speakers: on" }), "off");
  await expect(page.getByRole("button", { name: "Viewers at Laptop speakers: off" })).toBeVisible();
  await stepped.step(2);
  expect((await peaks(page, ["device/laptop-speakers/out"]))[0]).toBeLessThan(-100);
});

test("after the show the computer is put back by a press, and each change of it is told with who made it", async ({
  page,
  stepped,
}) => {
  await openGear(page, stepped);
  await pick(page.getByRole("button", { name: "Sound plays on: Headset" }), "Laptop speakers");
  await expect(page.getByRole("button", { name: "Sound plays on: Laptop speakers" })).toBeVisible();
  await page.getByRole("button", { name: "What was changed of the computer" }).click();
  const history = page.getByRole("dialog", { name: "What was changed of the computer" });
  await expect(history.getByRole("listitem").first()).toContainText("The default for playback is Laptop speakers");
  await expect(history.getByRole("listitem").first()).toContainText(/a person, in .+ on Linux/);
  await page.keyboard.press("Escape");
  await pick(page.getByRole("button", { name: "After the show" }), /^Put back what stood before/);
  await expect(page.getByRole("button", { name: "Sound plays on: Headset" })).toBeVisible();
  await page.getByRole("button", { name: "After the show" }).click();
  await expect(page.getByRole("menuitem", { name: /^Put back what stood before/ })).toHaveAttribute(
    "aria-disabled",
    "true",
  );
});

test("letters in the filter do nothing but find, words open and choose by keys alone, and the address keeps the screen", async ({
  page,
  stepped,
}) => {
  await openGear(page, stepped);
  await page.getByRole("searchbox", { name: "Find a program or device" }).click();
  await page.keyboard.type("shr");
  await expect(page.getByText("Nothing here is called “shr”.")).toBeVisible();
  expect(((await stepped.get("/api/status")) as { recordingTake: string | null }).recordingTake).toBeNull();
  await page.keyboard.press("Control+a");
  await page.keyboard.type("record shelf");
  await expect(sentence(page, "Record shelf")).toBeVisible();
  await expect(sentence(page, "Crew room")).toBeHidden();
  await page.keyboard.press("Control+a");
  await page.keyboard.press("Delete");
  const word = page.getByRole("button", { name: "Sound plays on: Headset" });
  await word.focus();
  await page.keyboard.press("Enter");
  await expect(page.getByRole("menuitem", { name: "Laptop speakers" })).toBeVisible();
  // A letter leads to what begins with it, and does nothing else.
  await page.keyboard.press("l");
  await expect(page.getByRole("menuitem", { name: "Laptop speakers" })).toBeFocused();
  await page.keyboard.press("Enter");
  const laptop = page.getByRole("button", { name: "Sound plays on: Laptop speakers" });
  await expect(laptop).toBeFocused();
  await page.reload();
  await expect(laptop).toBeVisible();
});

test("quick hands and a slow answer: the last choice counts, and nothing is lost", async ({ page, stepped }) => {
  await openGear(page, stepped);
  let release = () => {};
  const released = new Promise<void>((done) => {
    release = done;
  });
  await page.route("**/api/gear/**", async (route) => {
    await released;
    await route.continue();
  });
  const word = page.getByRole("button", { name: /^Sound plays on/ });
  await pick(word, "Laptop speakers");
  await pick(word, /^Desk interface/);
  await pick(word, "Laptop speakers");
  release();
  await expect
    .poll(async () => (await gearOf(stepped)).roles.find((r) => r.role === "Playback")?.name)
    .toBe("Laptop speakers");
  await expect(word).toHaveText("Laptop speakers");
});

test("a show that has only what is real shows nothing of the practice computer until it is wanted", async ({
  page,
  stepped,
}) => {
  const shows = (await stepped.send("POST", "/api/shows", { name: "Only real" })) as { id: string };
  await stepped.send("POST", `/api/shows/${shows.id}/open`, {});
  await page.addInitScript(() => {
    const media = navigator.mediaDevices;
    const open = media.getUserMedia.bind(media);
    const counted = Object.assign(window, { asked: 0 });
    media.getUserMedia = (wish) => {
      counted.asked++;
      return open(wish);
    };
  });
  await page.goto(stepped.url);

  // The browser is asked for nothing before somebody chooses what it would give.
  await page.getByRole("button", { name: "Add a source" }).first().click();
  const dialog = page.getByRole("dialog", { name: "Add a source" });
  await expect(dialog.getByRole("radio", { name: "This browser’s microphone" })).not.toBeChecked();
  await expect(dialog.getByRole("radio", { name: "Program" })).toBeHidden();
  expect(await page.evaluate(() => (window as unknown as { asked: number }).asked)).toBe(0);
  await page.goto(`${stepped.url}/gear`);
  await expect(page.getByText("This show uses nothing of the practice computer")).toBeVisible();
  await expect(page.getByText("Record shelf")).toBeHidden();

  // What is real can be used all the same: this browser's output, and nothing that is simulated.
  await page.getByRole("button", { name: "Let My ears go somewhere else too" }).click();
  await expect(page.getByRole("menuitem", { name: "This browser" })).toBeVisible();
  await expect(page.getByRole("menuitem", { name: /Headset|Laptop/ })).toBeHidden();
  await page.getByRole("menuitem", { name: "This browser" }).click();
  await expect(sentence(page, "My ears")).toContainText("goes to This browser");
  await page.getByRole("button", { name: "Show the practice computer" }).click();
  await expect(sentence(page, "Record shelf")).toBeVisible();
});

test("a mix goes to this browser's own output, which one window plays, and another takes over on purpose", async ({
  page,
  stepped,
}) => {
  await openGear(page, stepped);
  await pick(page.getByRole("button", { name: "Let Viewers go somewhere else too" }), "This browser");
  await expect(sentence(page, "Viewers")).toContainText("goes to This browser at 0.0 dB on.");
  const players = async () => ((await stepped.get("/api/players")) as { window: string }[]).map((p) => p.window);
  await expect.poll(async () => (await players()).length).toBe(1);
  const [first] = await players();
  const other = await page.context().newPage();
  await other.goto(`${stepped.url}/gear`);
  await expect(sentence(other, "Viewers")).toContainText("another window plays it");
  await other.getByRole("button", { name: "Play it in this window" }).click();
  await expect(sentence(page, "Viewers")).toContainText("another window plays it");
  await expect.poll(async () => (await players())[0]).not.toBe(first);
  // Once that is closed, this one goes on by itself.
  await other.close();
  await expect(sentence(page, "Viewers")).not.toContainText("another window plays it");
  await expect.poll(players).toEqual([first]);
});

test("a source is picked from everything that can sound, in three moves, by keys alone", async ({ page, stepped }) => {
  await openDesk(page, stepped);
  await stepped.send("PATCH", "/api/gear/apps/harbour-browser", { isRunning: true, isPlaying: true });
  await page.getByRole("button", { name: "Add a source" }).focus();
  await page.keyboard.press("Enter");
  const dialog = page.getByRole("dialog", { name: "Add a source" });
  await dialog.getByRole("radio", { name: "Person or instrument" }).focus();
  await page.keyboard.press("ArrowRight");
  await expect(dialog.getByRole("radio", { name: "Program" })).toBeFocused();
  await page.keyboard.press("Enter");
  await dialog.getByRole("radio", { name: "Harbour browser" }).focus();
  await page.keyboard.press("Space");
  const name = dialog.getByRole("textbox", { name: "Name" });
  await expect(name).toHaveValue("Harbour browser");
  await name.fill("Tide tables on the web");
  await page.keyboard.press("Enter");
  await expect(sourceItem(page, "Tide tables on the web")).toBeVisible();
  await stepped.step(1);
  const take = await record(page, stepped, 2);
  expect(rms(take("Tide tables on the web").left)).toBeGreaterThan(-50);
});
