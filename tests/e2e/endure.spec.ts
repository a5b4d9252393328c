import { execFileSync } from "node:child_process";
import { join } from "node:path";
import { test as base, expect } from "@playwright/test";
import { Cluster } from "./support/cluster.ts";
import { Server } from "./support/server.ts";

/** Few in the tests; ./kinetra endure does a hundred of each. */
const rounds = Number(process.env.KINETRA_ROUNDS ?? 3);

/** Whatever failed to answer, since it was being killed. */
class Unanswered extends Error {}

interface Show {
  id: string;
  revision: number;
  mixes: { id: string; sends: { source: string; gain: number }[] }[];
}

const test = base.extend<{ cluster: Cluster; server: Server }>({
  // biome-ignore lint/correctness/noEmptyPattern: the runner reads the fixtures that are needed off the pattern
  cluster: async ({}, use) => {
    const cluster = new Cluster();
    await use(cluster);
    cluster.remove();
  },
  server: async ({ cluster }, use) => {
    const server = new Server("real", cluster.connection);
    await server.create();
    await use(server);
    await server.remove();
  },
});

/** One after the other, edits of one send; each counts up. Remembers what was acknowledged. */
class Editor {
  readonly #server: Server;
  readonly #source: string;
  readonly acknowledged: number[] = [];

  /** The value that was tried last, and the last one that was acknowledged. */
  value = 0;
  known = 0;

  constructor(server: Server, source: string) {
    this.#server = server;
    this.#source = source;
  }

  /** Edits until it is told to end, or gets no answer. */
  async run(goesOn: () => boolean) {
    let seen: Show | null = null;
    while (goesOn()) {
      this.value = this.value >= 100 ? 1 : this.value + 1;
      try {
        const { id, revision } = seen ?? ((await this.#server.get("/api/shows/live")) as Show);
        const path = `/api/shows/${id}/mixes/viewers/sends/${this.#source}?revision=${revision}`;
        const show: Show = (await this.#server.send("PATCH", path, { gain: -this.value })) as Show;
        seen = show;
        this.acknowledged.push(show.revision);
        this.known = this.value;
      } catch {
        throw new Unanswered();
      }
    }
  }
}

async function gainOf(server: Server, source: string): Promise<number> {
  const show = (await server.get("/api/shows/live")) as Show;
  return -(show.mixes.find((m) => m.id === "viewers")?.sends.find((s) => s.source === source)?.gain ?? Number.NaN);
}

const sources = ["host-mic", "sea-mic", "guest-call", "record-shelf"];

/** Lets edits go on until so many are acknowledged, and then does what happens in the midst of them. */
async function burst(editors: Editor[], until: number, inTheMidst: () => void | Promise<void>) {
  let ended = false;
  const count = () => editors.reduce((sum, e) => sum + e.acknowledged.length, 0);
  const from = count();
  let happened: Promise<void> | null = null;
  const goesOn = () => {
    if (happened === null && count() - from >= until) {
      happened = Promise.resolve(inTheMidst()).finally(() => {
        ended = true;
      });
    }
    return !ended;
  };
  const results = await Promise.allSettled(editors.map((e) => e.run(goesOn)));
  await happened;
  for (const r of results) if (r.status === "rejected" && !(r.reason instanceof Unanswered)) throw r.reason;
}

async function allIsThere(server: Server, editors: Editor[]) {
  for (const [i, editor] of editors.entries()) {
    const stored = await gainOf(server, sources[i] ?? "");
    // The last one may have been stored though its answer never came.
    if (editor.acknowledged.length > 0) expect([editor.known, editor.value], sources[i]).toContain(stored);
    editor.value = stored;
    editor.known = stored;
  }
  const history = (await server.get("/api/shows/LIVE/history")) as { revision: number }[];
  const known = new Set(history.map((h) => h.revision));
  const newest = Math.max(...known);
  for (let revision = newest; revision > Math.max(0, newest - 200); revision--) expect(known.has(revision)).toBe(true);
  for (const editor of editors) {
    for (const revision of editor.acknowledged) if (revision > newest - 200) expect(known.has(revision)).toBe(true);
  }
  for (const editor of editors) expect(Math.max(0, ...editor.acknowledged)).toBeLessThanOrEqual(newest);
}

function secondsOf(server: Server, take: string, file: string): number {
  const path = join(server.data, "takes", take, file);
  return Number(
    execFileSync("ffprobe", ["-v", "error", "-show_entries", "format=duration", "-of", "csv=p=0", path]).toString(),
  );
}

test(`after kill -9 of the server in mid-burst, ${rounds} times, every acknowledged edit is there, and the take opens`, async ({
  server,
}) => {
  test.setTimeout(90_000 + rounds * 30_000);
  const editors = sources.map((s) => new Editor(server, s));
  for (let round = 0; round < rounds; round++) {
    const take = (await server.send("POST", "/api/takes", {})) as { id: string; tracks: { name: string }[] };
    const began = ((await server.get("/api/status")) as { frame: number }).frame;
    let frames = 0;
    await burst(editors, 1 + Math.floor(Math.random() * 250), async () => {
      frames = ((await server.get("/api/status")) as { frame: number }).frame - began;
      await server.kill();
    });
    await server.start();
    await allIsThere(server, editors);
    const takes = (await server.get("/api/takes")) as { id: string; state: string; seconds: number }[];
    const found = takes.find((t) => t.id === take.id);
    expect(found?.state).toBe("Interrupted");
    const seconds = secondsOf(server, take.id, "02 Viewers.wav");
    expect(seconds).toBeGreaterThan(frames / 48_000 - 1.1);
  }
});

test(`after kill -9 of PostgreSQL in mid-burst, ${rounds} times, every acknowledged edit is there, in order, once`, async ({
  server,
  cluster,
}) => {
  test.setTimeout(90_000 + rounds * 30_000);
  const editors = sources.map((s) => new Editor(server, s));
  for (let round = 0; round < rounds; round++) {
    const count = () => editors.reduce((sum, e) => sum + e.acknowledged.length, 0);
    await burst(editors, 1 + Math.floor(Math.random() * 150), async () => {
      cluster.crash();
      // Edits go on while it is away, for as many again.
      const then = count() + 20 + Math.floor(Math.random() * 60);
      await expect.poll(count).toBeGreaterThan(then);
      cluster.restart();
    });
    await expect
      .poll(async () => ((await server.get("/api/status")) as { databaseAway: boolean }).databaseAway, {
        timeout: 20_000,
      })
      .toBe(false);
    // Only what the database has survives this.
    await server.kill();
    await server.start();
    await allIsThere(server, editors);
  }
});
