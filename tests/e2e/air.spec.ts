import { execFile } from "node:child_process";
import type { Page } from "@playwright/test";
import { expect, openDesk, test } from "./support/fixtures.ts";
import { freePort } from "./support/ports.ts";

const line = (page: Page) => page.getByRole("listitem", { name: "Viewers", exact: true });

async function pick(page: Page, opener: string | RegExp, item: string | RegExp) {
  await page.getByRole("button", { name: opener }).focus();
  await page.keyboard.press("Enter");
  const found = page.getByRole("menuitem", { name: item });
  await expect(found).toBeVisible();
  await found.focus();
  await page.keyboard.press("Enter");
}

/** What ffmpeg says that it got, as a server or a listener: seconds and the highest sample, dB. */
function ffmpeg(args: string[]): Promise<{ seconds: number; peak: number }> {
  return new Promise((done, failed) => {
    execFile("ffmpeg", ["-hide_banner", "-nostats", ...args, "-af", "astats", "-f", "null", "-"], (error, _, said) => {
      if (error) failed(new Error(said));
      else
        done({
          seconds: Number(/n_samples: (\d+)|Number of samples: (\d+)/.exec(said)?.[2] ?? 0) / 48_000,
          peak: Number(/Peak level dB: (-?[\d.]+)/.exec(said)?.[1] ?? Number.NEGATIVE_INFINITY),
        });
    });
  });
}

test("a stream is added and set up with the keyboard alone; a wrong password is told, the right one lets in, and who listens hears the mix", async ({
  page,
  stepped,
}) => {
  await openDesk(page, stepped);
  const station = (await stepped.get("/api/station")) as { port: number; password: string };
  await page.getByRole("link", { name: "On air" }).focus();
  await page.keyboard.press("Enter");
  await expect(page.getByText(/There is none yet: add one/)).toBeVisible();
  await pick(page, "Add a stream", /^Viewers$/);
  await expect(line(page)).toContainText("Off air");

  await page.getByRole("button", { name: /^Where Viewers goes/ }).press("Enter");
  const dialog = page.getByRole("dialog", { name: "Where Viewers goes" });
  await dialog.getByLabel("Server", { exact: true }).fill("127.0.0.1");
  await dialog.getByLabel("Port", { exact: true }).fill("8o10");
  await dialog.getByLabel("Password", { exact: true }).fill("not this one");
  await page.keyboard.press("Enter");
  await expect(dialog.getByRole("alert")).toHaveText("A port is a number from 1 to 65535.");
  await dialog.getByLabel("Port", { exact: true }).fill(String(station.port));
  await page.keyboard.press("Enter");
  await expect(dialog).toBeHidden();

  await page.getByRole("button", { name: "Go on air: Viewers" }).press("Enter");
  const said = line(page).getByRole("status");
  await expect(said).toContainText("The server does not let us in");
  await expect(said).toContainText("You need to say who you are");
  await expect(said).toContainText("To check: The password, and whether the user is “source”.");
  // The bar above goes with the meters.
  await stepped.step(0.1);
  await expect(page.getByRole("button", { name: "Not on air" })).toBeVisible();
  await expect(page.getByRole("button", { name: /1 finding/ })).toBeVisible();

  await page.getByRole("button", { name: /^Where Viewers goes/ }).press("Enter");
  await dialog.getByLabel("Another password", { exact: true }).fill(station.password);
  await page.keyboard.press("Enter");
  await expect(dialog).toBeHidden();
  await page.getByRole("button", { name: "Go on air: Viewers" }).press("Enter");
  await expect
    .poll(async () => {
      await stepped.step(0.1);
      return line(page).innerText();
    })
    .toContain("On air at 127.0.0.1.");
  await expect(page.getByRole("button", { name: /^On air/ })).toBeVisible();
  await expect(page.getByText("Nothing wrong found")).toBeVisible();

  // Another program listens there.
  let over = false;
  const heard = ffmpeg(["-i", `http://127.0.0.1:${station.port}/live`, "-t", "3"]).finally(() => {
    over = true;
  });
  while (!over) await stepped.step(0.1);
  expect((await heard).peak).toBeGreaterThan(-60);

  // What listeners get is heard in this window, and held against the mix.
  const back = page.getByRole("button", { name: "Hear what listeners get of Viewers" });
  await back.press("Enter");
  await expect(back).toHaveAttribute("aria-pressed", "true");
  await expect
    .poll(async () => {
      await stepped.step(0.25);
      return line(page).innerText();
    })
    .toMatch(/Who begins to listen now hears the mix of \d+\.\d s ago, \d+ % alike\./);
  await back.press("Enter");
  await expect(line(page)).not.toContainText("Who begins to listen");

  // A song, while answers are slow: one press is one.
  await page.route("**/api/air/**", async (route) => {
    await new Promise((go) => setTimeout(go, 300));
    await route.continue();
  });
  await page.getByRole("button", { name: "Say what listeners hear" }).press("Enter");
  await page.keyboard.type("Reed – Tide");
  await page.keyboard.press("Enter");
  await expect(page.getByRole("list", { name: "What the practice station gives" })).toContainText("Reed – Tide");

  // The station is restarted in mid-show.
  await pick(page, /^The practice station/, "is switched off");
  await expect(line(page)).toContainText("Lost, connecting");
  await stepped.step(2);
  await expect(page.getByRole("button", { name: "Not on air" })).toBeVisible();
  await pick(page, /^The practice station/, "is there");
  await expect
    .poll(async () => {
      await stepped.step(0.1);
      return line(page).innerText();
    })
    .toMatch(/1 gap, the last of \d/);

  // Quick hands: two presses are one end.
  await page.getByRole("button", { name: "Go off air: Viewers" }).dblclick();
  await expect(page.getByRole("button", { name: "Go on air: Viewers" })).toBeVisible();
  await expect(line(page)).toContainText("Off air");
  await stepped.step(0.1);
  await expect(page.getByRole("button", { name: /^(Not on|On) air/ })).toBeHidden();
});

test("another program as the server gets the stream, in mono at another rate, paused and not; a letter typed on the screen does nothing", async ({
  page,
  stepped,
}) => {
  await openDesk(page, stepped);
  const port = await freePort();
  await page.getByRole("link", { name: "On air" }).click();
  await pick(page, "Add a stream", /^Viewers$/);
  await pick(page, /^Channels of Viewers/, "in mono");
  await pick(page, /^Sample rate of Viewers/, "44.1 kHz");
  await pick(page, /^Bit rate of Viewers/, /^64 kbit/);
  await expect(line(page)).toContainText("speech is as good as it gets; music is passable.");
  await page.getByRole("button", { name: /^Where Viewers goes/ }).click();
  const dialog = page.getByRole("dialog", { name: "Where Viewers goes" });
  await dialog.getByLabel("The same, an older server").check();
  await dialog.getByLabel("Server", { exact: true }).fill("127.0.0.1");
  await dialog.getByLabel("Port", { exact: true }).fill(String(port));
  // It takes one connection: not that of who looks whether it is there.
  await page.route(/\/api\/air\/checks/, () => undefined);
  await dialog.getByRole("button", { name: "Keep it" }).click();
  await expect(dialog).toBeHidden();

  let over = false;
  const got = ffmpeg([
    "-listen",
    "1",
    "-method",
    "SOURCE",
    "-f",
    "mp3",
    "-i",
    `http://127.0.0.1:${port}/live`,
    "-t",
    "4",
  ]).finally(() => {
    over = true;
  });
  await page.getByRole("button", { name: "Go on air: Viewers" }).click();
  await expect
    .poll(async () => {
      await stepped.step(0.1);
      return over || (await line(page).innerText()).includes("On air at");
    })
    .toBe(true);
  await page.getByRole("heading", { name: "On air" }).click();
  await page.keyboard.type("xq");
  while (!over) await stepped.step(0.1);
  expect((await got).peak).toBeGreaterThan(-60);
  await expect(line(page)).toContainText("Lost, connecting");
  await page.getByRole("button", { name: "Go off air: Viewers" }).click();
  await expect(line(page)).toContainText("Off air");

  // Gone, and there again with undo.
  await pick(page, "More with the stream Viewers", "Remove it");
  await expect(line(page)).toBeHidden();
  await page.getByRole("button", { name: /^Undo/ }).click();
  await expect(line(page)).toContainText("127.0.0.1");
});

test("before a start it is told what is there; a count can be taken back; all go on air and are recorded, and end", async ({
  page,
  stepped,
}) => {
  await openDesk(page, stepped);
  await page.getByRole("link", { name: "On air" }).click();

  // Under a slow answer the second is asked for while the first is not there yet: neither loses anything, nor does the first its password.
  let release = () => {};
  const released = new Promise<void>((done) => {
    release = done;
  });
  await page.route("**/api/shows/*/streams*", async (route) => {
    await released;
    await route.continue();
  });
  await pick(page, "Add a stream", /^Viewers, to the practice station/);
  await pick(page, "Add a stream", /^My ears$/);
  release();
  const checks = page.getByRole("list", { name: "Checks" });
  await expect(checks).toContainText("Viewers: 127.0.0.1, port");
  await expect(checks.getByRole("listitem").filter({ hasText: /^Wrong\. My ears:/ })).toContainText(
    "Nobody answers at localhost, port 8000",
  );
  await expect(checks).toContainText("Hush is off.");

  await pick(page, /^When it starts/, "after 5 s are counted");
  await page.getByRole("button", { name: "Go on air with all streams" }).press("Enter");
  await expect(page.getByRole("timer")).toHaveText(/On air in [45]/);
  // The keyboard is where it is taken back.
  await page.keyboard.press("Enter");
  await expect(page.getByRole("button", { name: "Go on air with all streams" })).toBeVisible();
  expect(((await stepped.get("/api/air")) as { state: string }[]).map((a) => a.state)).toEqual(["Off", "Off"]);

  await pick(page, /^When it starts/, "at once");
  await page.getByRole("button", { name: "Go on air, and record" }).click();
  await expect
    .poll(async () => {
      await stepped.step(0.1);
      return line(page).innerText();
    })
    .toContain("On air at 127.0.0.1.");
  await expect(page.getByRole("button", { name: /^Stop/ })).toBeVisible();
  await expect(page.getByRole("listitem", { name: "My ears", exact: true })).toContainText("Connecting");
  await page.getByRole("button", { name: "End all streams, and the take" }).click();
  await expect(line(page)).toContainText("Off air");
  await expect
    .poll(async () => ((await stepped.get("/api/takes")) as { state: string }[])[0]?.state)
    .not.toBe("Recording");
});

test("with keys alone: a program says what listeners read, and that the stream stays on air is promised, kept while it is and broken once it is lost", async ({
  page,
  stepped,
}) => {
  const { port, password } = (await stepped.send("PUT", "/api/station", { isOn: true })) as {
    port: number;
    password: string;
  };
  const server = { kind: "Put", host: "127.0.0.1", port, path: "/live", user: "source", secure: false };
  const made = { mix: "viewers", name: "Evening", server };
  const { streams } = (await stepped.send("POST", "/api/shows/LIVE/streams", made)) as { streams: { id: string }[] };
  await stepped.send("PUT", `/api/air/${streams[0]?.id}/password`, { password });
  await openDesk(page, stepped);
  await page.getByRole("link", { name: "On air" }).press("Enter");
  const teller = page.getByRole("button", { name: "Who says what listeners of Evening read: You say" });
  await teller.press("Enter");
  // A letter that is no item's first changes nothing.
  await expect(page.getByRole("menuitem", { name: "You say" })).toBeFocused();
  await page.keyboard.press("x");
  await page.keyboard.press("ArrowDown");
  await page.keyboard.press("Enter");
  await expect(page.getByRole("button", { name: /Who says .*: Record shelf says$/ })).toBeFocused();
  const told = async () =>
    ((await stepped.get("/api/shows/live")) as { streams: { songFrom: string | null }[] }).streams[0]?.songFrom;
  await expect.poll(told).toBe("record-shelf");

  await page.getByRole("button", { name: "Go on air: Evening" }).press("Enter");
  const state = async () => {
    await stepped.step(0.3);
    return ((await stepped.get("/api/air")) as { state: string }[])[0]?.state;
  };
  await expect.poll(state).toBe("OnAir");
  await page
    .getByRole("button", { name: /promise/i })
    .first()
    .press("Enter");
  const dialog = page.getByRole("dialog", { name: "Promises" });
  await dialog.getByRole("button", { name: /Promise it: Evening stays on air/ }).press("Enter");
  const row = dialog.getByRole("listitem", { name: "Evening stays on air from its start to its end" });
  await expect(row).toContainText("It is on air: the server takes what is sent.");
  await stepped.send("PUT", "/api/station", { isOn: false });
  await expect
    .poll(async () => {
      await stepped.step(0.5);
      return await row.textContent();
    })
    .toContain("It is not on air:");
  await stepped.send("POST", `/api/air/${streams[0]?.id}/stop`, {});
});
