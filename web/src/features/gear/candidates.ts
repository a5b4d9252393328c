import type { Gear, Show, Source, SourceInput } from "@/core/api/client";
import { channelWords } from "./ends";

/** What a source can be taken from, by what a person looks for. */
export type Sort = "people" | "programs" | "cables" | "rest";

/** Something that can sound. */
export interface Candidate {
  /** Tells it from the others. */
  key: string;
  words: string;
  hint?: string;
  /** What moves its bar. */
  points: string[];
  input: SourceInput;
  /** More people in one go: what each takes, and would be called. */
  and?: { input: SourceInput; name: string }[];
  /** What it would be called, and what kind of thing it is. */
  name: string;
  kind: Source["kind"];
}

const plugged: Record<string, string> = {
  Dynamic: "a dynamic microphone",
  Condenser: "a condenser microphone",
  HeadsetPlug: "a headset’s microphone",
  Line: "a line",
  Digital: "sound as numbers",
};

const speaks = (what: string) => what === "Dynamic" || what === "Condenser" || what === "HeadsetPlug";

/** What is plugged into an input, in words; nothing where nobody knows. */
export const pluggedWords = (what: string) => plugged[what];

const kinds: Record<string, Source["kind"]> = { Game: "Game", Music: "Music", Call: "Call", Chat: "Chat" };

/** Everything of a sort that can sound now. */
export function candidates(sort: Sort, gear: Gear, show: Show): Candidate[] {
  if (sort === "people") return gear.devices.flatMap(inputsOf);
  if (sort === "cables") return show.cables.flatMap(endsOf);
  return sort === "rest" ? [restOf(gear, show)] : gear.apps.filter((a) => a.isRunning).flatMap((a) => playsOf(a, show));
}

function isTaken(show: Show, app: string, port: string): boolean {
  return show.sources.some(
    ({ input }) => input.type === "app" && input.app === app && ((input.port ?? null) === null || input.port === port),
  );
}

function inputsOf(device: Gear["devices"][number]): Candidate[] {
  const shown = device.inputs.map((i, c) => ({ ...i, c })).filter((i) => i.isExposed);
  const away = device.isPresent ? (device.busyWith ? "busy: it waits" : undefined) : "unplugged: it waits";
  const one = shown.map((i) => ({
    key: `${device.id} ${i.c}`,
    words: shown.length > 1 ? `${device.name}, input ${i.name}` : device.name,
    hint: away ?? pluggedWords(i.plugged),
    points: [`device/${device.id}/in#${i.c}`],
    input: { type: "device" as const, device: device.id, left: i.c, loopAllowed: false },
    name: shown.length > 1 ? `${device.name} ${i.c + 1}` : device.name,
    kind: i.plugged === "Line" || i.plugged === "Digital" ? ("Instrument" as const) : ("Microphone" as const),
  }));
  const two = shown
    .filter((i) => i.c % 2 === 0 && shown.some((o) => o.c === i.c + 1))
    .map((i) => ({
      key: `${device.id} ${i.c} ${i.c + 1}`,
      words: `${device.name}, ${channelWords(i.c, i.c + 1)} in stereo`,
      hint: away,
      points: [`device/${device.id}/in#${i.c}`, `device/${device.id}/in#${i.c + 1}`],
      input: { type: "device" as const, device: device.id, left: i.c, right: i.c + 1, loopAllowed: false },
      name: `${device.name} ${i.c + 1}`,
      kind: "Instrument" as const,
    }));
  // Two microphones beside each other are most often two people.
  const pairs = shown
    .filter((i) => i.c % 2 === 0 && speaks(i.plugged) && shown.some((o) => o.c === i.c + 1 && speaks(o.plugged)))
    .map((i) => ({
      key: `${device.id} ${i.c} and ${i.c + 1}`,
      words: `${device.name}, two people on ${channelWords(i.c, i.c + 1)}`,
      hint: away,
      points: [`device/${device.id}/in#${i.c}`, `device/${device.id}/in#${i.c + 1}`],
      input: { type: "device" as const, device: device.id, left: i.c, loopAllowed: false },
      name: `${device.name} ${i.c + 1}`,
      and: [
        {
          input: { type: "device" as const, device: device.id, left: i.c + 1, loopAllowed: false },
          name: `${device.name} ${i.c + 2}`,
        },
      ],
      kind: "Microphone" as const,
    }));
  return [...one, ...pairs, ...two];
}

function playsOf(app: Gear["apps"][number], show: Show): Candidate[] {
  const outs = app.ports.filter((p) => p.side === "Out");
  const kind = kinds[app.kind] ?? "App";
  const taken = (ports: string[]) =>
    ports.some((p) => isTaken(show, app.id, p)) ? "a source takes it already" : undefined;
  const each = outs.map((p) => ({
    key: `${app.id} ${p.id}`,
    words: outs.length > 1 ? `${app.name}, ${p.name}` : app.name,
    hint: taken([p.id]),
    points: [`app/${app.id}/${p.id}`],
    input: { type: "app" as const, app: app.id, port: p.id, stillPlays: false, loopAllowed: false },
    name: outs.length > 1 ? `${app.name}, ${p.name.replace(/^its /, "")}` : app.name,
    kind,
  }));
  if (outs.length < 2) return each;
  const all = {
    key: app.id,
    words: app.name,
    hint: taken(outs.map((p) => p.id)) ?? "all that it plays",
    points: outs.map((p) => `app/${app.id}/${p.id}`),
    input: { type: "app" as const, app: app.id, stillPlays: false, loopAllowed: false },
    name: app.name,
    kind,
  };
  return [all, ...each];
}

function endsOf(cable: Show["cables"][number]): Candidate[] {
  const ends =
    cable.channels === 1
      ? [{ left: 0, right: null }]
      : Array.from({ length: Math.floor(cable.channels / 2) }, (_, i) => ({ left: 2 * i, right: 2 * i + 1 }));
  return ends.map(({ left, right }) => ({
    key: `${cable.id} ${left}`,
    words: cable.channels > 2 ? `${cable.name}, ${channelWords(left, right)}` : cable.name,
    points: [left, ...(right === null ? [] : [right])].map((n) => `cable/${cable.id}#${n}`),
    input: { type: "cable" as const, cable: cable.id, left, right, loopAllowed: false },
    name: cable.name,
    kind: "App" as const,
  }));
}

function restOf(gear: Gear, show: Show): Candidate {
  return {
    key: "rest",
    words: "Everything else that plays to a device",
    hint: "What other sources take is never in it.",
    points: gear.apps
      .filter((a) => a.isRunning)
      .flatMap((a) =>
        a.ports
          .filter((p) => p.side === "Out" && p.end?.startsWith("device/") && !isTaken(show, a.id, p.id))
          .map((p) => `app/${a.id}/${p.id}`),
      ),
    input: { type: "everythingElse", stillPlays: true, loopAllowed: false },
    name: "Computer",
    kind: "CatchAll",
  };
}
