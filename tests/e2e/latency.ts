import { readdirSync, readFileSync } from "node:fs";
import { type AddressInfo, createServer } from "node:net";
import { join, resolve } from "node:path";
import type { Page } from "@playwright/test";
import { browserArgs, microphoneArgs } from "./support/browser.ts";
import { addMicrophone, expect, grab, marker, microphoneState, openDesk, test } from "./support/fixtures.ts";
import { writeWav } from "./support/sound.ts";

// What takes how long, on this machine, now. Prints; judges nothing.
test.use({
  launchOptions: { executablePath: "/usr/bin/chromium", args: [...browserArgs, ...microphoneArgs()] },
  permissions: ["microphone"],
});

function say(what: string, times: number[], unit = "ms") {
  const sorted = [...times].sort((a, b) => a - b);
  const at = (share: number) =>
    (sorted[Math.min(sorted.length - 1, Math.floor(share * sorted.length))] ?? Number.NaN).toFixed(1);
  console.log(
    `${what}: median ${at(0.5)} ${unit}, 90 % ${at(0.9)} ${unit}, longest ${at(1)} ${unit} (${sorted.length} times)`,
  );
}

/** When a marker next says another value, in this page's time, ms since 1970. */
async function watch(page: Page, source: string, mix: string) {
  await page.evaluate(
    ([s, m]) => {
      const element = document.querySelector(`[role=slider][data-source="${s}"][data-mix="${m}"]`);
      const seen: number[] = [];
      Object.assign(window, { seen });
      new MutationObserver(() => seen.push(performance.timeOrigin + performance.now())).observe(element as Element, {
        attributeFilter: ["aria-valuenow"],
      });
    },
    [source, mix],
  );
}

async function noteEvents(page: Page) {
  await page.evaluate(() => {
    const events: number[] = [];
    Object.assign(window, { events });
    for (const kind of ["keydown", "pointermove"]) {
      addEventListener(kind, (e) => events.push(performance.timeOrigin + e.timeStamp), { capture: true });
    }
  });
}

async function take(page: Page, what: "seen" | "events"): Promise<number[]> {
  return page.evaluate((name) => {
    const list = (window as unknown as Record<string, number[]>)[name] ?? [];
    return list.splice(0);
  }, what);
}

test("from one window to another", async ({ page, context, live }) => {
  await openDesk(page, live);
  const other = await context.newPage();
  await openDesk(other, live);
  await watch(other, "sea-mic", "viewers");
  await noteEvents(page);
  const changes: number[] = [];
  for (let n = 0; n < 20; n++) {
    await take(other, "seen");
    await take(page, "events");
    await marker(page, "Sea mic", "Viewers").press(n % 2 === 0 ? "ArrowRight" : "ArrowLeft");
    const seen: number[] = [];
    await expect
      .poll(async () => {
        seen.push(...(await take(other, "seen")));
        return seen.length;
      })
      .toBeGreaterThan(0);
    changes.push((seen[0] ?? 0) - ((await take(page, "events"))[0] ?? 0));
  }
  say("A key in one window, seen in the other", changes);
});

test("from the pointer to the sound", async ({ page, live }) => {
  // The page's own worklet that tells what comes by, and at which frame.
  const assets = resolve(import.meta.dirname, "../../src/Kinetra.Server/wwwroot/assets");
  const worklet = `/assets/${readdirSync(assets).find((f) => f.startsWith("probe.worklet"))}`;
  await page.addInitScript((url) => {
    const connect = AudioNode.prototype.connect as (...a: unknown[]) => unknown;
    const levels: [number, number][] = [];
    // Worklet frames in this page's time: no message comes before it was sent, so the earliest ones tell.
    const clock = { offset: Number.POSITIVE_INFINITY };
    Object.assign(window, { levels, clock });
    AudioNode.prototype.connect = function (this: AudioNode, ...to: unknown[]) {
      if (to[0] instanceof AudioDestinationNode && this instanceof AudioWorkletNode) {
        void this.context.audioWorklet.addModule(url).then(() => {
          const out = new AudioWorkletNode(this.context, "probe-out", { numberOfOutputs: 1 });
          out.port.onmessage = ({ data }: MessageEvent<{ frame: number; samples: Float32Array }>) => {
            const now = performance.timeOrigin + performance.now();
            clock.offset = Math.min(clock.offset, now - data.frame / 48);
            levels.push([data.frame / 48, Math.max(...data.samples.map(Math.abs))]);
          };
          connect.call(this, out);
          connect.call(out, this.context.destination);
        });
      }
      return connect.apply(this, to);
    } as typeof AudioNode.prototype.connect;
  }, worklet);
  await openDesk(page, live);
  const path = join(live.data, "steady.wav");
  writeWav(path, 5, (n) => 0.2 * Math.sin((2 * Math.PI * 1000 * n) / 48_000));
  await page.getByRole("button", { name: "Add a sound" }).click();
  await page.getByLabel("Choose a sound file").setInputFiles(path);
  await page.getByRole("button", { name: "Add it" }).click();
  const show = (await live.get("/api/shows/live")) as { sources: { id: string; name: string }[] };
  for (const { id, name } of show.sources) {
    await live.send("PATCH", `/api/shows/LIVE/mixes/viewers/sends/${id}`, { heard: name === "steady" });
  }
  await page.keyboard.press("2");
  await expect(marker(page, "steady", "Viewers")).toHaveAttribute("data-known", "true");
  await noteEvents(page);
  const delays: number[] = [];
  for (let n = 0; n < 20; n++) {
    const { x, y } = await grab(page, "steady", "Viewers");
    // Steady again, and nothing on its way.
    await page.evaluate(() => new Promise((done) => setTimeout(done, 400)));
    await take(page, "events");
    await page.evaluate(() => (window as unknown as { levels: unknown[] }).levels.splice(0));
    await page.mouse.move(x - 40, y);
    await page.evaluate(() => new Promise((done) => setTimeout(done, 300)));
    const [event] = await take(page, "events");
    const levels = await page.evaluate(() => (window as unknown as { levels: [number, number][] }).levels.splice(0));
    const offset = await page.evaluate(() => (window as unknown as { clock: { offset: number } }).clock.offset);
    const steady = levels[0]?.[1] ?? 0;
    const changed = levels.find(([, peak]) => peak < steady * 0.97);
    if (event && changed) delays.push(changed[0] + offset - event);
    await page.mouse.move(x, y);
    await page.mouse.up();
  }
  say("A drag, heard in the worklet", delays);
});

test("from worklet to worklet through the engine", async ({ page, live }) => {
  await openDesk(page, live);
  await addMicrophone(page, "A voice");
  await expect.poll(() => microphoneState(live)).toBe("Live");
  await page.getByRole("button", { name: "Listen to Viewers" }).click();
  await page.getByRole("button", { name: /You hear Viewers/ }).click();
  await page.getByRole("menuitem", { name: "Measure the delay" }).click();
  const whole: number[] = [];
  for (let n = 0; n < 5; n++) {
    await page.getByRole("button", { name: /^Measure/ }).click();
    await expect(page.getByText(/^Measuring/)).toBeVisible();
    await expect(page.getByText(/^Measuring/)).toBeHidden({ timeout: 30_000 });
    const refused = await page.getByRole("dialog").getByRole("alert").allInnerTexts();
    if (refused.length > 0) throw new Error(refused.join(" "));
    const numbers = await page.getByRole("dialog").locator("dd").allInnerTexts();
    console.log(`  ${numbers.join(", ")}`);
    whole.push(Number.parseFloat(numbers[3] ?? ""));
  }
  say("Round trip", whole);
  const status = (await live.get("/api/status")) as { lateBlocks: number; frame: number };
  console.log(`Late blocks meanwhile: ${status.lateBlocks} of ${Math.round(status.frame / 256)}`);
});

test("eight streams to servers that take nothing", async ({ live }) => {
  const minute = 60_000;
  test.setTimeout(8 * minute);
  const taken = () => Number(readFileSync("/proc/stat", "utf8").split("\n")[0]?.split(/\s+/)[8] ?? 0) / 100;
  const late = async () => ((await live.get("/api/status")) as { lateBlocks: number }).lateBlocks;
  // What other guests take is no one's fault here: only seconds in which they took nothing, and none of the second before, are counted.
  const during = async (what: string) => {
    let [blocks, steal, wasCalm, seconds, more, all] = [await late(), taken(), false, 0, 0, 0];
    const until = performance.now() + minute;
    while (performance.now() < until) {
      await new Promise((done) => setTimeout(done, 1000));
      const [nowBlocks, nowSteal] = [await late(), taken()];
      const isCalm = nowSteal === steal;
      all += nowBlocks - blocks;
      if (isCalm && wasCalm) {
        seconds++;
        more += nowBlocks - blocks;
      }
      [blocks, steal, wasCalm] = [nowBlocks, nowSteal, isCalm];
    }
    console.log(`  ${what}: ${more} late blocks in ${seconds} undisturbed seconds, ${all} in the whole minute`);
    return { more, seconds };
  };
  // Each lets in, and never reads on.
  const servers = await Promise.all(
    Array.from({ length: 8 }, async () => {
      const server = createServer((line) => {
        line.on("error", () => {});
        line.once("data", () => {
          line.write("HTTP/1.1 200 OK\r\n\r\n");
          line.pause();
        });
      });
      await new Promise<void>((done) => server.listen(0, "127.0.0.1", done));
      return server;
    }),
  );
  const { mixes } = (await live.get("/api/shows/live")) as { mixes: { id: string }[] };
  const streams: string[] = [];
  for (const [n, server] of servers.entries()) {
    const { port } = server.address() as AddressInfo;
    await live.send("POST", "/api/shows/LIVE/streams", {
      mix: mixes[n % mixes.length]?.id,
      name: `Stalled ${n + 1}`,
      server: { kind: "Put", host: "127.0.0.1", port, path: "/live", user: "source", secure: false },
    });
  }
  for (const { id } of ((await live.get("/api/shows/live")) as { streams: { id: string }[] }).streams) streams.push(id);
  const [without, withThem]: [Awaited<ReturnType<typeof during>>[], Awaited<ReturnType<typeof during>>[]] = [[], []];
  for (let turn = 0; turn < 2; turn++) {
    without.push(await during("without"));
    for (const id of streams) await live.send("POST", `/api/air/${id}/start`, {});
    withThem.push(await during("with eight stalled streams"));
    for (const air of (await live.get("/api/air")) as { state: string; words: string }[])
      console.log(`    ${air.state}: ${air.words}`);
    await Promise.all(streams.map((id) => live.send("POST", `/api/air/${id}/stop`, {})));
  }
  const sum = (all: typeof without) =>
    `${all.reduce((a, b) => a + b.more, 0)} late blocks in ${all.reduce((a, b) => a + b.seconds, 0)} undisturbed seconds`;
  console.log(`Without: ${sum(without)}. With eight stalled streams: ${sum(withThem)}.`);
  for (const server of servers) server.close();
});
