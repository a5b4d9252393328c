import { expect, test } from "vitest";
import type { Gear, Show } from "@/core/api/client";
import { candidates } from "./candidates";

const gear = {
  devices: [
    {
      id: "desk",
      name: "Desk",
      isPresent: true,
      busyWith: null,
      inputs: [
        { name: "1", plugged: "Dynamic", isExposed: true },
        { name: "2", plugged: "Line", isExposed: true },
        { name: "3", plugged: "Nothing", isExposed: false },
      ],
    },
    { id: "ears", name: "Ears", isPresent: true, busyWith: null, inputs: [] },
    {
      id: "box",
      name: "Box",
      isPresent: true,
      busyWith: null,
      inputs: [
        { name: "1", plugged: "Dynamic", isExposed: true },
        { name: "2", plugged: "Condenser", isExposed: true },
      ],
    },
  ],
  apps: [
    { id: "game", name: "Game", kind: "Game", isRunning: true, ports: [out("sound"), out("radio"), hears("mic")] },
    { id: "off", name: "Off", kind: "Music", isRunning: false, ports: [out("music")] },
  ],
} as unknown as Gear;

const show = {
  sources: [{ id: "s", name: "S", input: { type: "app", app: "game", port: "radio", stillPlays: false } }],
  cables: [
    { id: "c", name: "Cable", channels: 2 },
    { id: "w", name: "Wide", channels: 4 },
  ],
} as unknown as Show;

function out(id: string) {
  return { id, name: `its ${id}`, side: "Out", end: "device/ears/out" };
}

function hears(id: string) {
  return { id, name: id, side: "In", end: null };
}

test("people are inputs that are shown, one by one and in pairs, with what is plugged in", () => {
  const people = candidates("people", gear, show);
  expect(people.map((c) => c.words)).toEqual([
    "Desk, input 1",
    "Desk, input 2",
    "Desk, 1 and 2 in stereo",
    "Box, input 1",
    "Box, input 2",
    "Box, two people on 1 and 2",
    "Box, 1 and 2 in stereo",
  ]);
  expect(people.slice(0, 3).map((c) => c.kind)).toEqual(["Microphone", "Instrument", "Instrument"]);
  expect(
    [people[5]?.input, ...(people[5]?.and ?? []).map((o) => o.input)].map((i) =>
      i?.type === "device" ? i.left : null,
    ),
  ).toEqual([0, 1]);
  expect(people[0]?.hint).toBe("a dynamic microphone");
  expect(people[1]?.points).toEqual(["device/desk/in#1"]);
});

test("programs are those that run, as a whole and by what they play; what is taken already is said", () => {
  const programs = candidates("programs", gear, show);
  expect(programs.map((c) => [c.words, c.hint])).toEqual([
    ["Game", "a source takes it already"],
    ["Game, its sound", undefined],
    ["Game, its radio", "a source takes it already"],
  ]);
  expect(programs[1]?.input).toMatchObject({ type: "app", app: "game", port: "sound", stillPlays: false });
});

test("cables are taken in pairs, and everything else moves with what nobody takes", () => {
  expect(candidates("cables", gear, show).map((c) => c.words)).toEqual(["Cable", "Wide, 1 and 2", "Wide, 3 and 4"]);
  expect(candidates("rest", gear, show)[0]?.points).toEqual(["app/game/sound"]);
});
