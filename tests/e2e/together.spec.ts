import type { BrowserContext, Page } from "@playwright/test";
import { dragBy, expect, grab, marker, openDesk, stored, test } from "./support/fixtures.ts";
import type { Server } from "./support/server.ts";

/** A gain as it is written. */
function dB(gain: number): string {
  return `${gain > 0 ? "+" : gain < 0 ? "−" : ""}${Math.abs(gain).toFixed(1)} dB`;
}

/** A second person: another browser on the same show. */
async function another(context: BrowserContext, server: Server): Promise<Page> {
  const browser = context.browser();
  if (!browser) throw new Error("There is no browser.");
  const page = await (await browser.newContext({ viewport: { width: 1280, height: 800 } })).newPage();
  await openDesk(page, server);
  return page;
}

test("an answer that was overtaken by news of the show does not bring the older show back", async ({
  page,
  stepped,
}) => {
  let answerNow = () => {};
  const overtaken = new Promise<void>((done) => {
    answerNow = done;
  });
  let isHeld = true;
  await page.route("**/api/shows/live", async (route) => {
    const old = await route.fetch();
    if (isHeld) await overtaken;
    await route.fulfill({ response: old });
  });
  const asked = page.waitForRequest("**/api/shows/live");
  const heard: string[] = [];
  page.on("websocket", (socket) => socket.on("framereceived", ({ payload }) => heard.push(String(payload))));
  const told = (what: string) => expect.poll(() => heard.some((frame) => frame.includes(what))).toBe(true);
  await page.goto(stepped.url);
  await asked;
  await told("EverythingChanged");
  await stepped.send("PATCH", "/api/shows/LIVE/mixes/viewers/sends/sea-mic", { gain: -21 });
  await told("ShowChanged");
  isHeld = false;
  answerNow();
  await expect(marker(page, "Sea mic", "Viewers")).toHaveAttribute("aria-valuenow", "-21");
});

test("a window that missed a step fetches the show, and has all of it", async ({ page, stepped }) => {
  await openDesk(page, stepped);
  await page.evaluate(() => {
    const parse = JSON.parse;
    let missed = false;
    // One step of the server's gets lost on its way into the page.
    JSON.parse = (text: string, ...rest: []) => {
      const message = parse(text, ...rest);
      if (message?.target !== "ShowChanged" || missed) return message;
      missed = true;
      return { type: 6 };
    };
  });
  await stepped.send("PATCH", "/api/shows/LIVE/mixes/viewers/sends/sea-mic", { gain: -21 });
  await stepped.send("PATCH", "/api/shows/LIVE/mixes/viewers/sends/guest-call", { gain: -22 });
  await expect(marker(page, "Guest call", "Viewers")).toHaveAttribute("aria-valuenow", "-22");
  await expect(marker(page, "Sea mic", "Viewers")).toHaveAttribute("aria-valuenow", "-21");
});

test("two people on one show see each other's changes, the dragging included", async ({ page, context, stepped }) => {
  await openDesk(page, stepped);
  const other = await another(context, stepped);
  await marker(page, "Sea mic", "Viewers").press("PageDown");
  await expect(marker(other, "Sea mic", "Viewers")).toHaveAttribute("aria-valuenow", "-2");
  const { x, y } = await grab(other, "Guest call", "My ears");
  await other.mouse.move(x - 60, y, { steps: 4 });
  const dragged = await marker(other, "Guest call", "My ears").getAttribute("aria-valuenow");
  expect(dragged).not.toBe("2");
  await expect(marker(page, "Guest call", "My ears")).toHaveAttribute("aria-valuenow", dragged ?? "");
  await other.mouse.up();
  await expect(marker(page, "Guest call", "My ears")).toHaveAttribute("aria-valuenow", dragged ?? "");
});

test("two changes of one value: the second person sees both and chooses", async ({ page, context, stepped }) => {
  await openDesk(page, stepped);
  const other = await another(context, stepped);
  for (const choice of ["Keep theirs", "Use mine"]) {
    await stepped.send("PATCH", "/api/shows/LIVE/mixes/viewers/sends/sea-mic", { gain: 1 });
    await expect(marker(page, "Sea mic", "Viewers")).toHaveAttribute("aria-valuenow", "1");
    await expect(marker(other, "Sea mic", "Viewers")).toHaveAttribute("aria-valuenow", "1");

    // One holds the sign while the other moves it by key; nobody's drag is stolen.
    const { x, y } = await grab(page, "Sea mic", "Viewers");
    await page.mouse.move(x - 30, y, { steps: 3 });
    const mine = (await marker(page, "Sea mic", "Viewers").getAttribute("aria-valuenow")) ?? "";
    await expect(marker(other, "Sea mic", "Viewers")).toHaveAttribute("aria-valuenow", mine);

    // He goes on from what he sees and hears at that moment.
    const theirs = Math.round((Number(mine) + 0.5) * 10) / 10;
    await marker(other, "Sea mic", "Viewers").press("ArrowRight");
    await stored(stepped, "viewers", "sea-mic", { gain: theirs });
    await expect(marker(page, "Sea mic", "Viewers")).toHaveAttribute("aria-valuenow", mine);
    await page.mouse.up();

    const card = page.getByRole("region", { name: "Two values for Sea mic in Viewers" });
    await expect(card).toContainText(dB(theirs));
    await expect(card).toContainText(dB(Number(mine)));
    await expect(card).toContainText("another window");
    await stored(stepped, "viewers", "sea-mic", { gain: theirs });
    await card.getByRole("button", { name: choice }).click();
    await expect(card).toBeHidden();
    const kept = choice === "Keep theirs" ? theirs : Number(mine);
    await stored(stepped, "viewers", "sea-mic", { gain: kept });
    await expect(marker(other, "Sea mic", "Viewers")).toHaveAttribute("aria-valuenow", String(kept));
  }
});

test("another person's change leaves one's focus, and what one has half typed, alone", async ({
  page,
  context,
  stepped,
}) => {
  await openDesk(page, stepped);
  const other = await another(context, stepped);
  await marker(page, "Sea mic", "Viewers").press("Enter");
  const field = page.getByRole("textbox", { name: "Send" });
  await field.fill("-7");
  await marker(other, "Sea mic", "Viewers").press("m");
  await marker(other, "Guest call", "Viewers").press("ArrowRight");
  await expect(marker(page, "Sea mic", "Viewers")).toHaveAttribute("aria-valuetext", "+1.0 dB, muted");
  await expect(field).toBeFocused();
  await expect(field).toHaveValue("-7");
  await field.press("Enter");
  await expect(marker(other, "Sea mic", "Viewers")).toHaveAttribute("aria-valuetext", "−7.0 dB, muted");
});

test("what somebody else sets while one types is not overwritten unseen either", async ({ page, context, stepped }) => {
  await openDesk(page, stepped);
  const other = await another(context, stepped);
  await marker(page, "Sea mic", "Viewers").press("Enter");
  const field = page.getByRole("textbox", { name: "Send" });
  await field.fill("-7");
  await marker(other, "Sea mic", "Viewers").press("ArrowRight");
  await stored(stepped, "viewers", "sea-mic", { gain: 1.5 });
  await expect(marker(page, "Sea mic", "Viewers")).toHaveAttribute("aria-valuenow", "1.5");
  await expect(field).toHaveValue("-7");
  await field.press("Enter");
  const card = page.getByRole("region", { name: "Two values for Sea mic in Viewers" });
  await expect(card).toContainText("+1.5 dB");
  await expect(card).toContainText("−7.0 dB");
  await stored(stepped, "viewers", "sea-mic", { gain: 1.5 });
  await card.getByRole("button", { name: "Use mine" }).click();
  await stored(stepped, "viewers", "sea-mic", { gain: -7 });
});

test("undo takes back the last change whoever made it, tells the other, and redo does it again", async ({
  page,
  context,
  stepped,
}) => {
  await openDesk(page, stepped);
  const other = await another(context, stepped);
  await dragBy(page, "Guest call", "Viewers", -4);
  const moved = await marker(page, "Guest call", "Viewers").getAttribute("aria-valuenow");
  await expect(marker(other, "Guest call", "Viewers")).toHaveAttribute("aria-valuenow", moved ?? "");
  await other.getByRole("button", { name: "History" }).click();
  await expect(other.getByRole("listitem").first()).toContainText(/Guest call in Viewers \+5\.0 → .*another window/s);
  await other.keyboard.press("Escape");
  await other.keyboard.press("Control+z");
  await expect(marker(page, "Guest call", "Viewers")).toHaveAttribute("aria-valuenow", "5");
  await expect(page.getByText(/^Took back: Guest call in Viewers/)).toBeVisible();
  await page.getByRole("button", { name: "Redo" }).click();
  await expect(marker(other, "Guest call", "Viewers")).toHaveAttribute("aria-valuenow", moved ?? "");
  await expect(page.getByRole("button", { name: "Redo" })).toBeDisabled();
});

test("a key that is held and a whole drag are one step of undo each", async ({ page, stepped }) => {
  await openDesk(page, stepped);
  await marker(page, "Sea mic", "My ears").focus();
  await page.keyboard.down("ArrowRight");
  for (let presses = 0; presses < 5; presses++) await page.keyboard.down("ArrowRight");
  await page.keyboard.up("ArrowRight");
  await stored(stepped, "my-ears", "sea-mic", { gain: 5 });
  await page.keyboard.press("Control+z");
  await stored(stepped, "my-ears", "sea-mic", { gain: 2 });
});

test("on a narrow screen too, undo, redo and the history are at hand", async ({ page, stepped }) => {
  await openDesk(page, stepped);
  await page.setViewportSize({ width: 390, height: 844 });
  await stepped.send("PATCH", "/api/shows/LIVE/mixes/viewers/sends/sea-mic", { gain: 4 });
  const more = page.getByRole("button", { name: "Undo and more" });
  await more.click();
  await page.getByRole("menuitem", { name: /^Undo .*Sea mic in Viewers/ }).click();
  await stored(stepped, "viewers", "sea-mic", { gain: 1 });
  await more.click();
  await page.getByRole("menuitem", { name: /^Redo .*Sea mic in Viewers/ }).click();
  await stored(stepped, "viewers", "sea-mic", { gain: 4 });
  await more.click();
  await page.getByRole("menuitem", { name: "History …" }).click();
  await expect(page.getByRole("dialog").getByRole("listitem").first()).toContainText("Sea mic in Viewers");
});

test("what waits behind a slow answer is for the show it was made in, also where another with the same mixes is live by then", async ({
  page,
  stepped,
}) => {
  await openDesk(page, stepped);
  const { id } = (await stepped.get("/api/shows/live")) as { id: string };
  const copy = (await stepped.send("POST", "/api/shows", { copyOf: id, name: "Has the same mixes" })) as { id: string };
  const sign = marker(page, "Sea mic", "Viewers");
  const before = Number(await sign.getAttribute("aria-valuenow"));
  let answerNow = () => {};
  const opened = new Promise<void>((done) => {
    answerNow = done;
  });
  const asked: string[] = [];
  await page.route(/sends\/sea-mic\?/, async (route) => {
    asked.push(route.request().url());
    await opened;
    await route.continue();
  });
  await sign.press("PageUp");
  await sign.press("PageUp");
  await stepped.send("POST", `/api/shows/${copy.id}/open`, {});
  await expect(page.getByRole("button", { name: /^Has the same mixes/ })).toBeVisible();
  await expect(sign).toHaveAttribute("aria-valuenow", String(before));
  const refused = page.waitForResponse((r) => r.request().method() === "PATCH" && r.status() === 409);
  answerNow();
  await refused;
  await expect.poll(() => asked.length).toBe(2);
  expect(asked.every((url) => url.includes(id))).toBe(true);
  await stored(stepped, "viewers", "sea-mic", { gain: before });
  await stepped.send("POST", `/api/shows/${id}/open`, {});
});
