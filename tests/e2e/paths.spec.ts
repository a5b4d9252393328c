import { readFile } from "node:fs/promises";
import { expect, openDesk, stored, test } from "./support/fixtures.ts";
import { loudest } from "./support/gear.ts";

// The map of all paths: read, traced, changed at names and tracks, in words, as a file; by keys and by pointer, with sound.

test.use({ demo: true });

test("the guest's return sent into the guest's own mix on the map: the promise breaks, the stand-in hears its echo, and ending it there ends that; by keys alone", async ({
  page,
  stepped,
}) => {
  await openDesk(page, stepped);
  await page.goto(`${stepped.url}/paths`);
  const guest = page.getByRole("button", { name: "Guest hears, a mix of 5 sources" });
  await guest.focus();
  await page.keyboard.press("Enter");
  await expect(page.getByRole("complementary", { name: "Inspector: Guest hears" })).toBeFocused();
  const hear = page.getByRole("button", { name: "Hear it from …" });
  await hear.focus();
  await page.keyboard.press("Enter");
  await page.getByRole("menuitem", { name: "Guest call" }).focus();
  await page.keyboard.press("Enter");
  const preview = page.getByRole("region", { name: "What would be changed" });
  // Told in all that it would bring before anything is done.
  await expect(preview.getByText(/^Guest hears does not hear Guest call, because/)).toBeVisible();
  await expect(preview.getByText(/hear their own voice/)).toBeVisible();
  await expect(preview.getByText("Guest call never hears itself.")).toBeVisible();
  await stored(stepped, "guest-hears", "guest-call", { heard: false });
  await preview.getByRole("button", { name: "Do it" }).focus();
  await page.keyboard.press("Enter");
  await stored(stepped, "guest-hears", "guest-call", { heard: true });
  await expect(page.getByRole("button", { name: "Guest hears, a mix of 6 sources" })).toBeVisible();
  await expect(page.getByRole("button", { name: /1 broken/ })).toBeVisible();
  await expect(page.locator('[data-track="3 2 -1"][data-state="On"]')).toBeAttached();

  // Nobody but the caller speaks: what its stand-in hears now is itself.
  for (const source of ["host-mic", "second-mic", "skerry-keeper", "record-shelf"])
    await stepped.send("PATCH", `/api/shows/LIVE/mixes/guest-hears/sends/${source}`, { muted: true });
  const [echo = []] = await loudest(page, stepped, ["app/harbour-call/mic"], 6);
  expect(Math.max(...echo)).toBeGreaterThan(-50);
  await expect(page.locator('[data-track="0 2 -1"]')).toHaveAttribute("data-state", "Muted");

  const track = page.getByRole("button", { name: "Guest call to Guest hears", exact: true });
  await track.focus();
  await page.keyboard.press("Enter");
  await expect(page.getByRole("complementary", { name: "Inspector: Guest call in Guest hears" })).toBeFocused();
  await page.getByRole("button", { name: "End it here …" }).focus();
  await page.keyboard.press("Enter");
  await expect(preview.getByText(/Guest hears no longer gets Guest call/)).toBeVisible();
  await preview.getByRole("button", { name: "Do it" }).focus();
  await page.keyboard.press("Enter");
  await stored(stepped, "guest-hears", "guest-call", { heard: false });
  await stepped.step(2);
  const [gone = []] = await loudest(page, stepped, ["app/harbour-call/mic"], 4);
  expect(Math.max(...gone)).toBeLessThan(-100);
  await stepped.send("PATCH", "/api/shows/LIVE/mixes/guest-hears/sends/host-mic", { muted: false });
  await expect(page.getByRole("button", { name: /broken/ })).toBeHidden();
});

test("arrows go along the tracks, from a name to its listeners and back, Enter traces, and Escape leads back", async ({
  page,
  stepped,
}) => {
  await openDesk(page, stepped);
  await page.goto(`${stepped.url}/paths`);
  const named = (name: string | RegExp) => page.getByRole("button", { name, exact: true });
  await named(/^Host mic ?, Desk interface, input 1$/).focus();
  await page.keyboard.press("ArrowDown");
  await expect(named(/^Co-host mic ?, Desk interface, input 2$/)).toBeFocused();
  await page.keyboard.press("ArrowUp");
  await page.keyboard.press("ArrowRight");
  await expect(named("Host mic to Viewers")).toBeFocused();
  await page.keyboard.press("ArrowDown");
  await expect(named("Host mic to Guest hears")).toBeFocused();
  await page.keyboard.press("ArrowRight");
  await expect(named("Guest hears, a mix of 5 sources")).toBeFocused();
  await page.keyboard.press("ArrowRight");
  await expect(named("Harbour call")).toBeFocused();
  await page.keyboard.press("Enter");
  const end = page.getByRole("complementary", { name: "Inspector: Harbour call" });
  await end.getByRole("button", { name: "How Host mic gets here, by Guest hears" }).focus();
  await page.keyboard.press("Enter");
  const way = page.getByRole("complementary", { name: "Inspector: Host mic to Harbour call" });
  await expect(way.getByText(/^Host mic reaches Harbour call/)).toBeVisible();
  // What does not belong to it steps back.
  await expect(page.locator('g:has(> [data-track="0 2 -1"])')).toHaveAttribute("opacity", "1");
  await expect(page.locator('g:has(> [data-track="1 2 -1"])')).toHaveAttribute("opacity", "0.13");
  await page.reload();
  await expect(way.getByText(/^Host mic reaches Harbour call/)).toBeVisible();
  await page.keyboard.press("Escape");
  await expect(way).toBeHidden();
});

test("what comes twice is drawn as two tracks that meet, measured, and one of them is ended where they do", async ({
  page,
  stepped,
}) => {
  await openDesk(page, stepped);
  await stepped.send("PATCH", "/api/shows/LIVE/sources/record-shelf", {
    input: { type: "app", app: "record-shelf", port: "music", stillPlays: true },
  });
  await page.goto(`${stepped.url}/paths`);
  await expect(page.locator('[data-twin="device/headset/out"]').getByText(/^twice, \d.* ms apart$/)).toBeVisible();
  // What is found leads to its way on the map.
  await page.getByRole("button", { name: "1 finding", exact: true }).click();
  const found = page.getByRole("dialog").getByRole("listitem").filter({ hasText: "Record shelf" });
  await found.getByRole("button", { name: "Trace it" }).click();
  await expect(page.getByRole("complementary", { name: "Inspector: Record shelf to Headset" })).toContainText(
    "by 2 ways",
  );
  await page.getByRole("button", { name: "Headset", exact: true }).click();
  await page.getByRole("button", { name: "End here …" }).click();
  await page.getByRole("menuitem", { name: "Record shelf" }).click();
  const preview = page.getByRole("region", { name: "What would be changed" });
  await preview.getByRole("button", { name: "Hear Record shelf through the desk alone" }).click();
  await expect(preview.getByText(/comes? twice|heard twice/).first()).toBeVisible();
  await preview.getByRole("button", { name: "Do it" }).click();
  await expect(page.locator("[data-twin]")).toHaveCount(0);
  // A step like any other.
  await page.keyboard.press("Escape");
  await page.getByRole("button", { name: "Undo", exact: true }).click();
  await expect(page.locator("[data-twin]")).toHaveCount(1);
});

test("a circle that is closed on the computer is a ring with its gain, and a line that nobody takes is an open end", async ({
  page,
  stepped,
}) => {
  await openDesk(page, stepped);
  await page.goto(`${stepped.url}/paths`);
  await expect(page.locator("[data-ring]")).toHaveCount(0);
  await stepped.send("POST", "/api/shows/LIVE/cables/to-guest/sources", { left: 0, right: 1 });
  const show = (await stepped.get("/api/shows/live")) as { sources: { id: string }[] };
  const id = show.sources.at(-1)?.id ?? "";
  await stepped.send("PATCH", `/api/shows/LIVE/mixes/guest-hears/sends/${id}`, { heard: true, gain: -3 });
  await expect(page.locator("[data-ring]").first()).toContainText(/^−\d.* dB round, held|^[+−]\d.* dB round/);
  await expect(page.getByRole("button", { name: /^the desk, as From Guest line/ })).toBeVisible();
  await stepped.send("PUT", "/api/gear/apps/beacon-encoder/ports/main", { choice: { type: "nothing" } });
  await expect(page.getByRole("button", { name: "Air line, heard by nobody" })).toBeVisible();
});

test("a name is found, quick hands and a slow answer end one thing once, and the words say the same", async ({
  page,
  stepped,
  context,
}) => {
  await context.grantPermissions(["clipboard-read", "clipboard-write"]);
  await openDesk(page, stepped);
  await page.goto(`${stepped.url}/paths`);
  // Typed, letters only find: the keys of hush and of record are among them.
  await page.getByRole("searchbox", { name: "Find a name" }).focus();
  await page.keyboard.type("reCord sh");
  await expect(page.getByRole("status").getByText("4 tracks")).toBeVisible();
  await expect(page.locator('g:has(> [data-track="0 1 -1"])')).toHaveAttribute("opacity", "0.13");
  await page.keyboard.press("Enter");
  await expect(page.getByRole("complementary", { name: "Inspector: Record shelf in My ears" })).toBeFocused();
  await page.getByRole("searchbox", { name: "Find a name" }).fill("");
  const { hushed, recording } = (await stepped.get("/api/status")) as { hushed: boolean; recording: boolean };
  expect([hushed, recording ?? false]).toEqual([false, false]);

  let [posts, release] = [0, () => {}];
  const released = new Promise<void>((done) => {
    release = done;
  });
  await page.route("**/trace/cut*", async (route) => {
    posts++;
    await released;
    await route.continue();
  });
  await page.getByRole("button", { name: "End it here …" }).click();
  const doIt = page.getByRole("region", { name: "What would be changed" }).getByRole("button", { name: "Do it" });
  await doIt.focus();
  await page.keyboard.press("Enter");
  await page.keyboard.press("Enter");
  release();
  await stored(stepped, "my-ears", "record-shelf", { heard: false });
  expect(posts).toBe(1);

  await page.getByRole("radio", { name: "Words" }).click();
  const ears = page.getByRole("region", { name: "My ears", exact: true });
  await expect(ears.getByText("in its dock: Host mic, Record shelf")).toBeVisible();
  await expect(ears.getByText("goes to Headset")).toBeVisible();
  await page.getByRole("button", { name: "Copy as text" }).click();
  await expect(page.getByText("Copied as text.", { exact: true })).toBeVisible();
  const text = await page.evaluate(() => navigator.clipboard.readText());
  expect(text).toContain("Guest hears\n  hears Host mic (Desk interface, input 1, chain of 3");
});

test("twelve sources and six mixes fit a screen without scrolling, tracks are as thick as they are loud, and the map is saved as a picture that others read", async ({
  page,
  stepped,
}) => {
  await page.setViewportSize({ width: 1280, height: 800 });
  await openDesk(page, stepped);
  const input = (app: string) => ({ type: "app", app, port: "sound" });
  for (const [name, app] of [
    ["The bell over the harbour at noon", "tin-sampler"],
    ["Rain", "harbour-browser"],
  ] as const)
    await stepped.send("POST", "/api/shows/LIVE/sources/taken", { name, input: input(app) });
  for (const name of ["Room speaker", "Second stream"])
    await stepped.send("POST", "/api/shows/LIVE/mixes", { name, purpose: "Viewers" });
  await page.goto(`${stepped.url}/paths`);
  await expect(page.getByRole("button", { name: /^Second stream, a mix of/ })).toBeVisible();
  const map = page.locator("svg[data-map]");
  const box = await map.boundingBox();
  const main = await page.getByRole("main").boundingBox();
  expect(box && main && box.y + box.height <= main.y + main.height + 1).toBe(true);
  expect(box && main && box.x + box.width <= main.x + main.width + 1).toBe(true);
  // Names are whole enough to be told apart: none lies on another.
  const boxes = await page.locator("[data-stop^='start'], [data-stop^='mix'], [data-stop^='end']").evaluateAll((all) =>
    all.map((e) => {
      const r = e.getBoundingClientRect();
      return { x: r.x, y: r.y, right: r.right, bottom: r.bottom };
    }),
  );
  const meet = boxes.filter((a, i) =>
    boxes.some((b, j) => j < i && a.x < b.right - 1 && b.x < a.right - 1 && a.y < b.bottom - 1 && b.y < a.bottom - 1),
  );
  expect(meet).toEqual([]);

  // The shelf plays, the sampler does not run: one track is thick, the other thin and dotted.
  const width = (track: string) =>
    page.locator(`[data-track="${track}"]`).evaluate((e) => Number.parseFloat(getComputedStyle(e).strokeWidth));
  await expect
    .poll(async () => {
      // Music has soft moments: until one that is not.
      await stepped.step(0.5);
      return width("7 1 -1");
    })
    .toBeGreaterThan(2);
  expect(await width("10 1 -1")).toBeLessThan(1.7);
  await expect(page.locator('[data-track="10 1 -1"]')).toHaveAttribute("stroke-dasharray", "1 5");

  const [download] = await Promise.all([
    page.waitForEvent("download"),
    page.getByRole("button", { name: "Save the map as SVG" }).click(),
  ]);
  const svg = await readFile(await download.path(), "utf8");
  expect(download.suggestedFilename()).toBe("The Lamp Room paths.svg");
  expect(svg).not.toMatch(/var\(|https?:(?!\/\/www\.w3\.org\/2000\/svg)/);
  // An XML reader reads it, and a browser draws it.
  const read = await page.evaluate((text) => {
    const document = new DOMParser().parseFromString(text, "image/svg+xml");
    return {
      broken: document.querySelector("parsererror") !== null,
      names: [...document.querySelectorAll("text")].map((t) => t.textContent),
    };
  }, svg);
  expect(read.broken).toBe(false);
  expect(read.names.some((n) => n?.includes("ms late"))).toBe(true);
  for (const name of ["Host mic", "Second stream", "Beacon encoder, its first sound"])
    expect(read.names).toContain(name);
});
