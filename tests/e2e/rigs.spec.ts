import type { Page } from "@playwright/test";
import { browserArgs, microphoneArgs } from "./support/browser.ts";
import { expect, marker, openDesk, pick, sourceItem, test } from "./support/fixtures.ts";
import { loudest, openGear, type Show, sentence } from "./support/gear.ts";
import type { Server } from "./support/server.ts";
import { record, rms } from "./support/sound.ts";

// What people set up, whole, through the interface.

test.use({
  launchOptions: { executablePath: "/usr/bin/chromium", args: [...browserArgs, ...microphoneArgs()] },
  permissions: ["microphone"],
});

/** A cable with a name, made in the dialog, that something plays into. */
async function makeCable(page: Page, name: string, from: string[]) {
  const dialog = page.getByRole("dialog", { name: "Cables" });
  await dialog.getByRole("button", { name: "New cable" }).click();
  const field = dialog.getByRole("textbox", { name: /^Name of / }).last();
  await expect(field).toHaveValue(/^Cable/);
  await field.fill(name);
  await field.press("Enter");
  const part = dialog.getByRole("region", { name, exact: true });
  for (const one of from) {
    await pick(part.getByRole("button", { name: `Let something play into ${name}` }), one);
    await expect(part.getByRole("checkbox", { name: one })).toBeVisible();
  }
  return part;
}

const cablesOf = async (server: Server) => ((await server.get("/api/shows/live")) as Show).cables;

test("music and chat on two cables come to two tracks of the recorder, each by itself", async ({ page, stepped }) => {
  await openGear(page, stepped);
  await page.getByRole("button", { name: "Cables" }).click();
  await makeCable(page, "Music line", ["Record shelf"]);
  await makeCable(page, "Chat line", ["Crew talk"]);
  await page.keyboard.press("Escape");
  await sentence(page, "Reel recorder").getByRole("button", { name: "Start Reel recorder" }).click();
  const track = (n: number) =>
    sentence(page, "Reel recorder").getByRole("button", { name: `Reel recorder, track ${n}, takes` });
  await pick(track(1), "Out of Music line");
  await pick(track(2), "Out of Chat line");
  await expect(sentence(page, "Reel recorder")).toContainText("takes Music line on track 1, Chat line on track 2");
  const tracks = ["app/reel-recorder/track-1", "app/reel-recorder/track-2"];
  for (const track of await loudest(page, stepped, tracks, 5)) expect(Math.min(...track)).toBeGreaterThan(-50);

  // Each is the one and not the other: paused, only its own track falls silent.
  await sentence(page, "Record shelf").getByRole("button", { name: "Pause Record shelf" }).click();
  await expect(sentence(page, "Record shelf").getByRole("button", { name: "Play Record shelf" })).toBeVisible();
  await stepped.step(1);
  const [music = [], chat = []] = await loudest(page, stepped, tracks, 5);
  expect(Math.max(...music)).toBeLessThan(-100);
  expect(Math.max(...chat)).toBeGreaterThan(-50);
});

test("the lesson, which takes one input only, gets voice and music on a channel pair each of one cable", async ({
  page,
  stepped,
}) => {
  await openGear(page, stepped);
  await page.getByRole("button", { name: "Cables" }).click();
  const part = await makeCable(page, "Lesson line", []);
  const channels = part.getByRole("textbox", { name: "Channels of Lesson line" });
  await channels.fill("4");
  await channels.press("Enter");
  for (const one of ["Host mic", "Record shelf"])
    await pick(part.getByRole("button", { name: "Let something play into Lesson line" }), one);
  await pick(part.getByRole("button", { name: /^Channels that Record shelf fills/ }), "channels 3 and 4");
  await expect(part.getByRole("button", { name: /^Channels that Record shelf fills/ })).toHaveText("channels 3 and 4");
  await page.keyboard.press("Escape");
  await sentence(page, "Lesson room").getByRole("button", { name: "Start Lesson room" }).click();
  await pick(
    sentence(page, "Lesson room").getByRole("button", { name: /its only input, takes/ }),
    "Out of Lesson line",
  );
  const heard = async () => (await loudest(page, stepped, ["app/lesson-room/sound"], 5))[0] ?? [];
  expect((await heard()).every((peak) => peak > -50)).toBe(true);
  await sentence(page, "Record shelf").getByRole("button", { name: "Pause Record shelf" }).click();
  await expect(sentence(page, "Record shelf").getByRole("button", { name: "Play Record shelf" })).toBeVisible();
  await stepped.step(1);
  const after = await heard();
  expect(after.length).toBe(4);
  expect(Math.min(...after.slice(0, 2))).toBeGreaterThan(-50);
  expect(Math.max(...after.slice(2))).toBeLessThan(-100);
});

test("two people on two inputs of one interface are added in one go, and are one step of undo", async ({
  page,
  stepped,
}) => {
  await openDesk(page, stepped);
  await page.getByRole("button", { name: "Add a source" }).click();
  const dialog = page.getByRole("dialog", { name: "Add a source" });
  await dialog.getByRole("radio", { name: "Desk interface, two people on 1 and 2" }).click();
  await dialog.getByRole("textbox", { name: "Name, input 1" }).fill("Ebba");
  await dialog.getByRole("textbox", { name: "Name, input 2" }).fill("Ebba");
  await expect(dialog.getByRole("button", { name: "Add them" })).toBeDisabled();
  await dialog.getByRole("textbox", { name: "Name, input 2" }).fill("Finn");
  await dialog.getByRole("button", { name: "Add them" }).click();
  await expect(sourceItem(page, "Ebba")).toBeVisible();
  const take = await record(page, stepped, 4);
  for (const name of ["Ebba", "Finn"]) expect(rms(take(name).left), name).toBeGreaterThan(-50);
  await page.getByRole("button", { name: /^Undo/ }).first().click();
  await expect(sourceItem(page, "Ebba")).toBeHidden();
  await expect(sourceItem(page, "Finn")).toBeHidden();
});

test("a person speaks, is told that it is low, and takes the gain that is offered, by keys alone", async ({
  page,
  live,
}) => {
  await live.send("PATCH", "/api/gear/devices/desk-interface/inputs/0", { gain: 20 });
  await openDesk(page, live);
  await sourceItem(page, "Host mic").getByRole("button", { name: "Host mic", exact: true }).focus();
  await page.keyboard.press("Enter");
  const inspector = page.getByRole("complementary", { name: "Inspector: Host mic" });
  const speak = inspector.getByRole("button", { name: "Speak now: is it loud enough?" });
  await speak.focus();
  await page.keyboard.press("Enter");
  await expect(inspector.getByText("Speak now, as loud as in the show")).toBeVisible();
  await expect(inspector.getByRole("button", { name: "Stop listening" })).toBeFocused();
  await expect(inspector.getByText(/^Low: /)).toBeVisible({ timeout: 20_000 });
  const offer = inspector.getByRole("button", { name: /^Set Desk interface 1 to \d+ dB$/ });
  await offer.focus();
  await page.keyboard.press("Enter");
  const gainOf = async () =>
    ((await live.get("/api/gear")) as { devices: { id: string; inputs: { gain: number }[] }[] }).devices.find(
      (d) => d.id === "desk-interface",
    )?.inputs[0]?.gain ?? 0;
  await expect.poll(gainOf).toBeGreaterThan(35);
  await expect(offer).toBeHidden();
});

test("before a cable goes it is said who loses what, near-equal names are told, and nothing is removed by opening the words", async ({
  page,
  stepped,
}) => {
  await openGear(page, stepped);
  await page.getByRole("button", { name: "Cables" }).click();
  const part = await makeCable(page, "Guest line", ["Guest hears"]);
  await makeCable(page, "Guest lime", []);
  await expect(part.getByText("It could be taken for Guest lime")).toBeVisible();
  await expect(part).toContainText("Programs find it as Into Guest line to play into, and as Out of Guest line");
  await part.getByRole("button", { name: "Remove Guest line …" }).focus();
  await page.keyboard.press("Enter");
  const asked = page.getByRole("alertdialog", { name: "Remove Guest line?" });
  await expect(asked.getByText("Guest hears no longer plays into it.")).toBeVisible();

  // What the computer is set to meanwhile is said too.
  const guestLine = (await cablesOf(stepped)).find((c) => c.name === "Guest line")?.id;
  await stepped.send("PUT", "/api/gear/apps/harbour-call/ports/mic", {
    choice: { type: "end", end: `cable/${guestLine}` },
  });
  await expect(asked.getByText("Harbour call, him: ")).toBeVisible();

  // Whoever presses once too often keeps it.
  await page.keyboard.press("Enter");
  await expect(asked).toBeHidden();
  expect((await cablesOf(stepped)).length).toBe(2);
  await page.keyboard.press("Enter");
  await asked.getByRole("button", { name: "Remove it" }).focus();
  await page.keyboard.press("Enter");
  await expect.poll(async () => (await cablesOf(stepped)).map((c) => c.name)).toEqual(["Guest lime"]);
});

test("the sound of a tab is a source that arrives, and after a reload waits until it is shared again", async ({
  page,
  live,
  complaints,
}) => {
  await openDesk(page, live);
  await page.getByRole("button", { name: "Add a source" }).click();
  const dialog = page.getByRole("dialog", { name: "Add a source" });
  await dialog.getByRole("radio", { name: "Sound of a tab or of this computer" }).click();
  await dialog.getByRole("button", { name: "Choose what is shared …" }).click();
  const name = dialog.getByRole("textbox", { name: "Name" });
  await expect(name).toHaveValue(/^Sound of /);
  await name.fill("The chart plotter");
  await dialog.getByRole("button", { name: "Add it" }).click();
  await expect(sourceItem(page, "The chart plotter")).toBeVisible();
  const state = async () => (await live.get("/api/microphones")) as { state: string; arrivedFrames: number }[];
  await expect.poll(async () => (await state())[0]?.state).toBe("Live");
  await expect(marker(page, "The chart plotter", "Viewers")).toHaveAttribute("data-known", "true", { timeout: 30_000 });
  await page.reload();
  await expect(sourceItem(page, "The chart plotter")).toContainText("not shared");
  await sourceItem(page, "The chart plotter").getByRole("button", { name: "The chart plotter", exact: true }).click();
  const inspector = page.getByRole("complementary", { name: "Inspector: The chart plotter" });
  await expect(inspector.getByRole("switch", { name: "Still heard where it plays" })).toBeChecked();
  const before = (await state())[0]?.arrivedFrames ?? 0;
  await inspector.getByRole("button", { name: "Share it again" }).click();
  await expect.poll(async () => (await state())[0]?.arrivedFrames ?? 0).toBeGreaterThan(before + 24_000);
  await expect(sourceItem(page, "The chart plotter")).not.toContainText("not shared");

  // The browser's stand-in for sharing opens a camera for the picture.
  complaints.splice(0, complaints.length, ...complaints.filter((c) => !c.includes("camera is not allowed")));
});
