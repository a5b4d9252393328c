import { expect, test } from "vitest";
import type { Gear, Show } from "@/core/api/client";
import { takeable, takenWords } from "./points";

const show = {
  sources: [{ id: "host", name: "Host mic" }],
  mixes: [{ id: "viewers", name: "Viewers" }],
  cables: [{ id: "game", name: "Game cable" }],
} as unknown as Show;
const gear = {
  apps: [
    {
      id: "call",
      name: "Harbour Line",
      ports: [
        { id: "voice", name: "the far side", side: "Out" },
        { id: "mic", name: "its microphone", side: "In" },
      ],
    },
  ],
} as unknown as Gear;

test("a source can be taken on both sides of its chain, and of a program what it hears, not what it plays", () => {
  expect(takeable(show, gear).map((t) => t.point)).toEqual([
    "source/host",
    "source/host/before",
    "mix/viewers",
    "cable/game",
    "app/call/mic",
  ]);
  expect(takeable(show, undefined)).toHaveLength(4);
});

test("what is taken is told in words, also where it is not there", () => {
  const all = takeable(show, gear);
  expect(takenWords("app/call/mic", all)).toBe("what Harbour Line hears, its microphone");
  expect(takenWords("source/gone", all)).toBe("something that is not there");
});
