import { readFileSync } from "node:fs";
import { test as base, expect } from "@playwright/test";
import { Server } from "./support/server.ts";

/** A few seconds in the tests; ./kinetra soak lasts an hour. */
const minutes = Number(process.env.KINETRA_MINUTES ?? 0.1);
const editsPerSecond = 5;

interface Status {
  frame: number;
  load: number;
  lateBlocks: number;
}

interface Show {
  revision: number;
  sources: { id: string; chain: { id: string; type: string; bypassed: boolean }[] }[];
  mixes: { id: string; name: string; sends: { source: string }[] }[];
  cables: { id: string; feeds: unknown[] }[];
  toUndo: { revision: number } | null;
}

const test = base.extend<{ server: Server }>({
  // biome-ignore lint/correctness/noEmptyPattern: the runner reads the fixtures that are needed off the pattern
  server: async ({}, use) => {
    const server = new Server("real");
    await server.create();
    await use(server);
    await server.remove();
  },
});

/** Eight voices with five processors each, four mixes with a limiter each. */
function referenceShow() {
  const devices = ["host-mic", "second-mic", "guest-call", "crew-talk", "skerry-keeper", "record-shelf", "sea-mic"];
  let next = 0;
  const chain = (...types: string[]) => types.map((type) => ({ id: `p${next++}`, type }));
  const sources = Array.from({ length: 8 }, (_, i) => ({
    id: `s${i}`,
    name: `Source ${i + 1}`,
    kind: "Microphone",
    input: { type: "standIn", device: devices[i % devices.length] },
    chain: chain("lowCut", "gate", "equaliser", "deEsser", "compressor"),
    look: { color: i, shape: i },
  }));
  const mixes = Array.from({ length: 4 }, (_, i) => ({
    id: `m${i}`,
    name: `Mix ${i + 1}`,
    purpose: "Other",
    chain: chain("limiter"),
    sends: sources.map((s) => ({ source: s.id, gain: -6 })),
  }));
  return { format: "kinetra-show", version: "draft-1", name: "Reference rig", sources, mixes };
}

// Always the same edits.
let seed = 12345;
function random(below: number): number {
  seed = (Math.imul(seed, 1103515245) + 12345) >>> 0;
  return (seed >>> 8) % below;
}

function pick<T>(list: T[]): T {
  return list[random(list.length)] as T;
}

/** Seconds for which this machine wanted a processor and its host gave it to others, of all processors together, since it began. */
function stolen(): number {
  return Number(readFileSync("/proc/stat", "utf8").split("\n")[0]?.trim().split(/\s+/)[8]) / 100;
}

/** One edit at random, of all sorts; what is built up is taken down again. */
async function edit(server: Server, show: Show): Promise<Show> {
  const source = pick(show.sources);
  const mix = pick(show.mixes);
  const send = `/api/shows/LIVE/mixes/${mix.id}/sends/${pick(mix.sends).source}`;
  const processor = pick(source.chain);
  const chain = `/api/shows/LIVE/sources/${source.id}/chain`;
  const cable = show.cables[0];
  switch (random(12)) {
    case 0:
      return (await server.send("PATCH", send, { muted: random(2) === 0 })) as Show;
    case 1:
      return (await server.send("PATCH", send, { heard: random(2) === 0 })) as Show;
    case 2:
      return (await server.send("PATCH", `/api/shows/LIVE/sources/${source.id}`, { trim: random(12) - 6 })) as Show;
    case 3:
      return (await server.send("PATCH", `${chain}/${processor.id}`, { bypassed: !processor.bypassed })) as Show;
    case 4:
      return (await server.send("PUT", `${chain}/${processor.id}/place`, { index: random(5) })) as Show;
    case 5:
      return show.mixes.length < 6
        ? ((await server.send("POST", "/api/shows/LIVE/mixes", { purpose: "Other", copyOf: mix.id })) as Show)
        : ((await server.send("DELETE", `/api/shows/LIVE/mixes/${show.mixes.at(-1)?.id}`, null)) as Show);
    case 6:
      return cable
        ? ((await server.send("DELETE", `/api/shows/LIVE/cables/${cable.id}`, null)) as Show)
        : ((await server.send("POST", "/api/shows/LIVE/cables", { channels: 4 })) as Show);
    case 7:
      return cable && cable.feeds.length === 0
        ? ((await server.send("POST", `/api/shows/LIVE/cables/${cable.id}/feeds`, { from: { mix: mix.id } })) as Show)
        : show.toUndo
          ? ((await server.send("POST", "/api/shows/LIVE/undo", { step: show.toUndo.revision })) as Show)
          : show;
    case 8: {
      const gate = source.chain.find((p) => p.type === "gate");
      const values = { values: { lookAhead: random(11) } };
      return gate ? ((await server.send("PATCH", `${chain}/${gate.id}`, values)) as Show) : show;
    }
    default:
      return (await server.send("PATCH", send, { gain: -random(30) })) as Show;
  }
}

test("the live loop goes on through edits at random, at its pace, and its memory stays", async ({ server }) => {
  test.setTimeout(minutes * 60_000 + 120_000);
  const added = (await server.send("POST", "/api/shows/file", referenceShow())) as { id: string };
  let show = (await server.send("POST", `/api/shows/${added.id}/open`, {})) as Show;
  expect(show.sources).toHaveLength(8);
  const resident = () => Number(/VmRSS:\s+(\d+)/.exec(readFileSync(`/proc/${server.pid}/status`, "utf8"))?.[1]) / 1024;
  const first = (await server.get("/api/status")) as Status;
  let taken = stolen();
  const began = performance.now();
  let edits = 0;
  let told = 0;
  let behind = 0;
  while (performance.now() - began < minutes * 60_000) {
    show = await edit(server, show);
    edits++;
    const due = (edits / editsPerSecond) * 1000;
    await new Promise((done) => setTimeout(done, Math.max(0, due - (performance.now() - began))));
    if (performance.now() - began < told * 60_000) continue;
    told++;
    const now = (await server.get("/api/status")) as Status;
    behind = (performance.now() - began) / 1000 - (now.frame - first.frame) / 48_000;
    const before = taken;
    taken = stolen();
    console.log(
      `minute ${told - 1}: load ${(100 * now.load).toFixed(1)} %, late ${now.lateBlocks - first.lateBlocks}, processor time taken by other guests ${(taken - before).toFixed(1)} s, behind the clock ${(1000 * behind).toFixed(1)} ms, resident ${resident().toFixed(0)} MiB, ${edits} edits`,
    );
  }
  const last = (await server.get("/api/status")) as Status;
  const blocks = (last.frame - first.frame) / 256;
  const late = last.lateBlocks - first.lateBlocks;
  console.log(`${edits} edits, ${blocks} blocks, ${late} late, resident ${resident().toFixed(0)} MiB`);
  expect(edits).toBeGreaterThan(minutes * 60 * editsPerSecond * 0.5);
  expect(blocks).toBeGreaterThan(minutes * 60 * 187.5 * 0.9);
  expect(show.sources).toHaveLength(8);
});
