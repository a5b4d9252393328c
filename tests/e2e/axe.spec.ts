import { AxeBuilder } from "@axe-core/playwright";
import type { Page } from "@playwright/test";
import { expect, marker, openDesk, test } from "./support/fixtures.ts";
import { freePort } from "./support/ports.ts";
import type { Server } from "./support/server.ts";

interface Sets {
  padSets: { id: string; pads: { id: string }[] }[];
}

const rules = ["wcag2a", "wcag2aa", "wcag21a", "wcag21aa", "wcag22aa", "best-practice"];

const sizes = [
  { width: 1280, height: 800 },
  // The same at 200 %.
  { width: 640, height: 400 },
  { width: 390, height: 844 },
] as const;

const layers = [
  "shows",
  "history",
  "keys",
  "palette",
  "hands",
  "delay",
  "cables",
  "findings",
  "promises",
  "cards",
  "join",
  "source",
  "sound",
  "microphone",
  "mix",
] as const;

/** What stands in the address, and what is there once it is drawn. */
const places: [address: string, there: (page: Page) => Promise<void>][] = [
  ["/", (page) => expect(marker(page, "Sea mic", "Viewers")).toBeVisible()],
  ["/?view=table", (page) => expect(page.getByRole("table")).toBeVisible()],
  ["/gear", (page) => expect(page.getByRole("heading", { name: "Gear", exact: true })).toBeVisible()],
  ["/takes", (page) => expect(page.getByRole("list", { name: "Planned tracks" })).toBeVisible()],
  [
    "/on-air",
    async (page) => {
      await expect(page.getByRole("listitem", { name: "Viewers", exact: true })).toBeVisible();
      await expect(page.getByRole("listitem", { name: "Evening", exact: true })).toContainText("Refused");
    },
  ],
  ["/pads", (page) => expect(page.getByRole("button", { name: "Begin a set" })).toBeVisible()],
  ["/voice?at=source/host-mic", (page) => expect(page.getByRole("region", { name: "The chain" })).toBeVisible()],
  ["/voice?at=source/sea-mic", (page) => expect(page.getByRole("region", { name: "The chain" })).toBeVisible()],
  [
    "/voice?at=source/sea-mic&bench=new",
    (page) => expect(page.getByRole("heading", { name: /on the bench$/, level: 1 })).toBeVisible(),
  ],
  ["/paths", (page) => expect(page.getByRole("button", { name: /^Viewers, a mix of/ })).toBeVisible()],
  ["/paths?at=source/sea-mic", (page) => expect(page.getByRole("complementary", { name: /^Inspector/ })).toBeVisible()],
  ...["send/viewers/sea-mic", "source/sea-mic", "mix/viewers"].map((at): [string, (page: Page) => Promise<void>] => [
    `/?at=${at}`,
    (page) => expect(page.getByRole("complementary", { name: /^Inspector/ })).toBeVisible(),
  ]),
  ...layers.map((layer): [string, (page: Page) => Promise<void>] => [
    `/?open=${layer}`,
    (page) => expect(page.getByRole("dialog")).toBeVisible(),
  ]),
];

/** A stream that its server does not let in. */
async function refused(server: Server) {
  const { port } = (await server.get("/api/station")) as { port: number };
  const to = { kind: "Put", host: "127.0.0.1", port, path: "/live", user: "source", secure: false };
  const show = (await server.send("POST", "/api/shows/LIVE/streams", {
    mix: "viewers",
    name: "Evening",
    server: to,
  })) as {
    streams: { id: string }[];
  };
  await server.send("POST", `/api/air/${show.streams[0]?.id}/start`, {});
}

async function findings(page: Page, where: string, colorsOnly: boolean): Promise<string[]> {
  // What fades in is judged once it is there.
  await page.evaluate(() => Promise.all(document.getAnimations().map((a) => a.finished.catch(() => undefined))));
  // What lies over a screen is judged by itself: the screen behind it is out of reach, and judged where it is not.
  const over = page.locator("[role=dialog], [role=alertdialog]");
  const axe = new AxeBuilder({ page }).setLegacyMode().options({ resultTypes: ["violations"] });
  if ((await over.count()) > 0) axe.include("[role=dialog], [role=alertdialog]");
  // The themes differ in colours alone.
  const { violations } = await (colorsOnly ? axe.withRules(["color-contrast"]) : axe.withTags(rules)).analyze();
  return violations.flatMap((v) =>
    v.nodes.map((n) => `${where}: ${v.id}: ${n.target.join(" ")}: ${(n.failureSummary ?? "").replace(/\s+/g, " ")}`),
  );
}

// At 200 % there is nothing in another colour than beside it.
for (const colorScheme of ["dark", "light"] as const)
  for (const size of colorScheme === "light" ? sizes.filter((s) => s.width !== 640) : sizes)
    test(`every screen and dialog is accessible as far as a machine can tell: ${colorScheme}, ${size.width} × ${size.height}`, async ({
      page,
      stepped,
    }) => {
      // Forty screens, one after the other: where the host takes half of the processor away it needs twice the time.
      test.slow();
      await page.emulateMedia({ colorScheme, reducedMotion: "reduce" });
      await page.setViewportSize(size);
      await stepped.send("PUT", "/api/shows/LIVE/sources/sea-mic/chain", { preset: null });
      await stepped.send("POST", "/api/shows/LIVE/sources/sea-mic/chain", { type: "equaliser" });
      await stepped.send("POST", "/api/shows/LIVE/sources/host-mic/chain", { type: "gate", index: 0 });
      await stepped.send("POST", "/api/shows/LIVE/tracks/proposed", {});
      await stepped.send("POST", "/api/addresses", { point: "mix/viewers" });
      await refused(stepped);
      await openDesk(page, stepped);
      // Other tests on this server have takes too.
      const name = `${colorScheme} ${size.width}`;
      await stepped.send("POST", "/api/takes", { name });
      await stepped.step(10);
      const { id: take } = (await stepped.send("POST", "/api/takes/current/stop", {})) as { id: string };
      // One that was deleted, and one of which both ends are cut off.
      await stepped.send("POST", "/api/takes", { name: "Rehearsal" });
      await stepped.step(0.5);
      const { id: deleted } = (await stepped.send("POST", "/api/takes/current/stop", {})) as { id: string };
      await fetch(`${stepped.url}/api/takes/${deleted}`, { method: "DELETE" });
      await stepped.send("PATCH", `/api/takes/${take}`, { from: 2, to: 7, notes: "Cut the start" });
      const colorsOnly = colorScheme === "light";
      const found: string[] = [];
      for (const [address, there] of places) {
        await page.goto(stepped.url + address);
        await there(page);
        found.push(...(await findings(page, address, colorsOnly)));
      }
      await page.goto(`${stepped.url}/takes`);
      await page.getByRole("button", { name: `Time line of ${name}` }).click();
      await expect(page.getByRole("slider", { name: "Place in the take" })).toBeVisible();
      await expect(page.getByRole("region", { name: "Deleted takes" })).toBeVisible();
      found.push(...(await findings(page, "a time line", colorsOnly)));
      await page.getByRole("button", { name: `Sound files of ${name}` }).click();
      await page.getByRole("radio", { name: "One blend" }).click();
      found.push(...(await findings(page, "sound files", colorsOnly)));
      // A loop on the bench, in each of its views; kept chains; in time.
      await stepped.step(2);
      await page.goto(`${stepped.url}/voice?at=source/sea-mic&bench=new`);
      await page.getByRole("button", { name: "The last 10 seconds" }).click();
      await expect(page.getByRole("region", { name: "The chain" })).toBeVisible();
      found.push(...(await findings(page, "the bench", colorsOnly)));
      await page.getByRole("radio", { name: "Compare" }).click();
      await expect(page.getByRole("row", { name: /^As it is now/ })).toContainText("−");
      found.push(...(await findings(page, "the bench, compared", colorsOnly)));
      await page.getByRole("radio", { name: "Blind" }).click();
      found.push(...(await findings(page, "the bench, blind", colorsOnly)));
      await page.goto(`${stepped.url}/voice?at=source/sea-mic`);
      await page.getByRole("button", { name: "In time", exact: true }).click();
      await expect(page.getByRole("dialog").getByRole("row", { name: /^Viewers/ })).toBeVisible();
      found.push(...(await findings(page, "in time", colorsOnly)));
      await page.keyboard.press("Escape");
      await page.getByRole("button", { name: "Presets", exact: true }).click();
      await page.getByRole("menuitem", { name: /^Keep this chain/ }).click();
      await expect(page.getByRole("dialog")).toBeVisible();
      found.push(...(await findings(page, "kept chains", colorsOnly)));
      const made = (await stepped.send("POST", "/api/shows/LIVE/pad-sets", { name: "Stings" })) as Sets;
      const heard = { of: "source/sea-mic", seconds: 2 };
      const path = `/api/shows/LIVE/pad-sets/${made.padSets[0]?.id}/heard`;
      await stepped.send("POST", path, { ...heard, key: "KeyF" });
      const both = (await stepped.send("POST", path, heard)) as Sets;
      await page.goto(`${stepped.url}/pads?at=pad/${both.padSets[0]?.pads[0]?.id}`);
      await expect(page.getByRole("slider", { name: "Begins at" })).toBeVisible();
      await expect(page.getByText(/^Loudest moment/)).toBeVisible();
      found.push(...(await findings(page, "pads", colorsOnly)));
      await stepped.send("POST", "/api/shows/LIVE/cues", {
        name: "All of it",
        acts: [
          { type: "play", pad: both.padSets[0]?.pads[0]?.id },
          { type: "stop", fade: 500 },
          { type: "turn", gain: -6, over: 500 },
          { type: "levels", levels: [{ mix: "viewers", source: "sea-mic", gain: -6 }], over: 500 },
          { type: "music", source: "record-shelf", on: false, over: 500 },
          { type: "mark", words: "Here" },
        ],
      });
      await page.goto(`${stepped.url}/pads`);
      await page.getByRole("button", { name: "Cues" }).click();
      await page.getByRole("button", { name: /^1 ?All of it/ }).click();
      await expect(page.getByRole("textbox", { name: "Words of the mark" })).toBeVisible();
      found.push(...(await findings(page, "the cue list", colorsOnly)));
      await page.goto(`${stepped.url}/?at=mix/viewers`);
      await page.getByRole("button", { name: "Remove this mix" }).click();
      await expect(page.getByRole("alertdialog")).toBeVisible();
      found.push(...(await findings(page, "a question", colorsOnly)));
      await page.getByRole("button", { name: "Keep it" }).click();

      const empty = (await stepped.send("POST", "/api/shows", { name: "An empty one" })) as { id: string };
      await stepped.send("POST", `/api/shows/${empty.id}/open`, {});
      await page.goto(stepped.url);
      await expect(page.getByText("Nothing sounds yet")).toBeVisible();
      found.push(...(await findings(page, "an empty show", colorsOnly)));
      expect(found).toEqual([]);
    });

test.describe("away from the keyboard", () => {
  test.use({ ignoreHTTPSErrors: true });

  test("a phone's board is accessible as far as a machine can tell, before it is let in and after", async ({
    page,
    stepped,
  }) => {
    await page.setViewportSize({ width: 390, height: 844 });
    const port = await freePort();
    await stepped.send("PATCH", "/api/second-screen", {
      on: true,
      port,
      addresses: ["127.0.0.1"],
      passphrase: "lantern-harbour",
      rights: {
        pads: true,
        cues: true,
        hush: true,
        record: true,
        voices: ["host-mic"],
        talkTo: ["viewers"],
        lanes: ["viewers"],
      },
    });
    const found: string[] = [];
    for (const colorScheme of ["dark", "light"] as const) {
      await page.emulateMedia({ colorScheme, reducedMotion: "reduce" });
      await page.context().clearCookies();
      await page.goto(`https://127.0.0.1:${port}/`);
      await expect(page.getByLabel("Passphrase")).toBeVisible();
      found.push(...(await findings(page, `the door, ${colorScheme}`, false)));
      await page.getByLabel("Passphrase").fill("lantern-harbour");
      await page.keyboard.press("Enter");
      await expect(page.getByRole("button", { name: "Hush" })).toBeVisible();
      found.push(...(await findings(page, `the board, ${colorScheme}`, false)));
    }
    expect(found).toEqual([]);
  });
});

test("what judges the screens finds a button without a name and words that can hardly be read, on a screen and in what lies over it", async ({
  page,
  stepped,
}) => {
  await openDesk(page, stepped);
  const spoil = (where: string) =>
    page.locator(where).evaluate((e) => {
      e.insertAdjacentHTML("afterbegin", "<button></button><p style='color:#777;background:#888'>hardly</p>");
    });
  expect(await findings(page, "the desk", false)).toEqual([]);
  await spoil("main");
  const screen = (await findings(page, "the desk", false)).join("\n");
  expect(screen).toContain("button-name");
  expect(screen).toContain("color-contrast");
  await page.goto(`${stepped.url}/?open=keys`);
  await expect(page.getByRole("dialog")).toBeVisible();
  expect(await findings(page, "keys", true)).toEqual([]);
  await spoil("[role=dialog]");
  expect((await findings(page, "keys", true)).join("\n")).toContain("color-contrast");
  expect((await findings(page, "keys", false)).join("\n")).toContain("button-name");
});

/** What sticks out of the window sideways, and cannot be scrolled to where it is. */
const cutOff = (page: Page) =>
  page.evaluate(() => {
    const canScroll = (e: Element | null): boolean =>
      e !== null && (/auto|scroll/.test(getComputedStyle(e).overflowX) || canScroll(e.parentElement));
    return [...document.querySelectorAll<HTMLElement>("body *")]
      .filter((e) => e.checkVisibility() && e.closest(".sr-only") === null)
      .filter((e) => {
        const { left, right, width } = e.getBoundingClientRect();
        return width > 0 && (right > innerWidth + 0.5 || left < -0.5) && !canScroll(e.parentElement);
      })
      .map((e) => `${e.tagName} ${e.getAttribute("aria-label") ?? e.textContent?.slice(0, 40)}`);
  });

test("at 320 pixels nothing is cut off, and no screen is wider than the window", async ({ page, stepped }) => {
  await page.setViewportSize({ width: 320, height: 640 });
  await stepped.send("POST", "/api/shows/LIVE/tracks/proposed", {});
  await stepped.send("POST", "/api/addresses", { point: "mix/viewers" });
  await refused(stepped);
  await openDesk(page, stepped);
  for (const [address, there] of places) {
    await page.goto(stepped.url + address);
    await there(page);
    expect.soft(await cutOff(page), address).toEqual([]);
    expect.soft(await page.evaluate(() => document.scrollingElement?.scrollWidth), address).toBeLessThanOrEqual(320);
  }
});
