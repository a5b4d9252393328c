import { test as base, type Locator, type Page, expect as plainExpect } from "@playwright/test";
import { computerOf, restore } from "./computer.ts";
import { givenConnection, Server } from "./server.ts";

// What is asked again steps the clock, or asks a server that is near: no second is waited between.
const intervals = [30, 60, 100];

/** Expects; what is polled is asked in short intervals. */
export const expect = new Proxy(plainExpect, {
  get: (target, property) =>
    property === "poll"
      ? (ask: Parameters<typeof plainExpect.poll>[0], options?: { timeout?: number }) =>
          plainExpect.poll(ask, { intervals, ...options })
      : Reflect.get(target, property),
});

interface WorkerFixtures {
  /** Servers begin with the demo shows, as the application does, and not with the plain ones that tests build upon. */
  demo: boolean;
  /** What the tests of one worker share. */
  shared: { server: Server; original: string; computer: Awaited<ReturnType<typeof computerOf>> };
}

interface Fixtures {
  /** A server whose time stands still until it is stepped, with a show that nobody has touched. The server is shared, the show is not. */
  stepped: Server;
  /** A server of that kind for this test alone: what it has recorded, stored and lost before is nothing. */
  own: Server;
  /** A server on the machine's clock. */
  live: Server;
  /** What the page complains about: a test fails on anything that is not expected. */
  complaints: string[];
}

export const test = base.extend<Fixtures, WorkerFixtures>({
  demo: [false, { option: true, scope: "worker" }],
  shared: [
    async ({ demo }, use) => {
      const server = new Server("stepped", givenConnection(), { demo });
      await server.create();
      const { id } = (await server.get("/api/shows/live")) as { id: string };
      await server.send("PATCH", `/api/shows/${id}`, { name: "As it came" });
      await use({ server, original: id, computer: await computerOf(server) });
      await server.remove();
    },
    { scope: "worker" },
  ],
  stepped: async ({ shared: { server, original, computer } }, use) => {
    const copy = (await server.send("POST", "/api/shows", { copyOf: original, name: "The Lamp Room" })) as {
      id: string;
    };
    await server.send("POST", `/api/shows/${copy.id}/open`, {});
    await use(server);
    await server.send("POST", `/api/shows/${original}/open`, {});
    await server.send("DELETE", `/api/shows/${copy.id}`, null);
    await server.send("PUT", "/api/hush", { on: false });
    await server.send("PUT", "/api/station", { isOn: true });
    await restore(server, computer);
  },
  own: async ({ demo }, use) => {
    const server = new Server("stepped", givenConnection(), { demo });
    await server.create();
    await use(server);
    await server.remove();
  },
  live: async ({ demo }, use) => {
    const server = new Server("real", givenConnection(), { demo });
    await server.create();
    await use(server);
    await server.remove();
  },
  complaints: [
    async ({ page }, use) => {
      const complaints: string[] = [];
      page.on("pageerror", (error) => complaints.push(error.message));
      page.on("console", (message) => {
        if (message.type() === "error") complaints.push(message.text());
      });
      await use(complaints);
      // An answer that was being held or made when the test was over fails nobody.
      if (!page.isClosed()) await page.unrouteAll({ behavior: "ignoreErrors" });
      // A server that is away, or an answer that says no, is reported by the browser itself; a test's own server goes before its page does,
      // which may still be fetching what comes last.
      expect(
        complaints.filter(
          (c) =>
            !/net::ERR_|status of [45]|Failed to fetch dynamically imported|WebSocket connection to|AudioContext was not allowed/.test(
              c,
            ),
        ),
      ).toEqual([]);
    },
    { auto: true },
  ],
});

/** Opens the Desk and waits until meters come in. */
export async function openDesk(page: Page, server: Server) {
  await page.goto(server.url);
  await expect(page.getByRole("region", { name: "What Viewers gets" })).toBeVisible();
  if (server.clock === "stepped") await server.step(4);
  await expect(page.getByRole("slider").first()).toHaveAttribute("data-known", "true");
}

/** Adds the browser's microphone through the interface. */
export async function addMicrophone(page: Page, name: string) {
  await page.getByRole("button", { name: "Add a microphone" }).click();
  await page.getByRole("textbox", { name: "Name" }).fill(name);
  await page.getByRole("button", { name: "Add it" }).click();
  await expect(sourceItem(page, name)).toBeVisible();
}

/** A source in the list of sources. */
export function sourceItem(page: Page, name: string) {
  return page.getByRole("region", { name: "Sources" }).getByRole("listitem").filter({ hasText: name });
}

/** How a microphone of the show stands, at the server. */
export async function microphoneState(server: Server): Promise<string | undefined> {
  return ((await server.get("/api/microphones")) as { state: string }[])[0]?.state;
}

/** The marker of a source in a mix. */
export function marker(page: Page, source: string, mix: string) {
  return page.getByRole("slider", { name: `${source} in ${mix}`, exact: true });
}

/** Waits until a send is stored as expected: what the page shows already is on its way. */
export async function stored(
  server: Server,
  mix: string,
  source: string,
  expected: { gain?: number | "off"; heard?: boolean; muted?: boolean },
) {
  const send = async () => {
    const show = (await server.get("/api/shows/live")) as { mixes: { id: string; sends: { source: string }[] }[] };
    return show.mixes.find((m) => m.id === mix)?.sends.find((s) => s.source === source);
  };
  await expect.poll(send).toMatchObject(expected);
}

/** Takes hold of a marker once it stands still, and says where the pointer is. */
export async function grab(page: Page, source: string, mix: string): Promise<{ x: number; y: number }> {
  await page.evaluate(() => {
    const note = (e: PointerEvent) => Object.assign(window, { grabbedAt: { x: e.clientX, y: e.clientY } });
    addEventListener("pointerdown", note, { once: true, capture: true });
  });
  await marker(page, source, mix).hover();
  await page.mouse.down();
  return page.evaluate(() => (window as unknown as { grabbedAt: { x: number; y: number } }).grabbedAt);
}

/** Drags a marker by so many dB along the axis. */
export async function dragBy(page: Page, source: string, mix: string, decibels: number) {
  const width = await marker(page, source, mix).evaluate((e) => e.parentElement?.clientWidth ?? 0);
  const { x, y } = await grab(page, source, mix);
  await page.mouse.move(x + (decibels / 54) * width, y, { steps: 8 });
  await page.mouse.up();
}

/** Chooses one of the choices behind a button. */
export async function pick(button: Locator, words: string | RegExp) {
  await button.click();
  await button.page().getByRole("menuitem", { name: words }).click();
}
