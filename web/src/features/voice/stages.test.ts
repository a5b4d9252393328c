import { expect, test } from "vitest";
import type { Processor, Show } from "@/core/api/client";
import { dropIndex, placeOf, pointBefore, usualIndex } from "./stages";

const chain = ["lowCut", "gate", "limiter"].map((type) => ({ id: `${type}-1`, type }) as Processor);
const types = ["lowCut", "gate", "deEsser", "limiter", "room"].map((key) => ({ key }));

test("what goes into a processor is what the one before it gives, and into the first what comes in", () => {
  expect([0, 1, 3].map((i) => pointBefore({ source: "host" }, chain, i))).toEqual([
    "source/host/before",
    "stage/lowCut-1",
    "stage/limiter-1",
  ]);
  expect(pointBefore({ mix: "viewers" }, [], 0)).toBe("mix/viewers/before");
});

test("a new processor goes where it usually stands", () => {
  expect(usualIndex(chain, types, "deEsser")).toBe(2);
  expect(usualIndex(chain, types, "lowCut")).toBe(1);
  expect(usualIndex(chain, types, "room")).toBe(3);
  expect(usualIndex([], types, "gate")).toBe(0);
});

test("what is dragged goes between those whose middles it lies between", () => {
  expect(dropIndex([10, 20, 30], 0, 12)).toBe(0);
  expect(dropIndex([10, 20, 30], 0, 25)).toBe(1);
  expect(dropIndex([10, 20, 30], 0, 99)).toBe(2);
  expect(dropIndex([10, 20, 30], 2, 5)).toBe(0);
});

test("what was shown last is shown again, and what is gone is not", () => {
  const show = {
    sources: [
      { id: "music", kind: "Music" },
      { id: "host", kind: "Microphone" },
    ],
    mixes: [{ id: "viewers" }],
  } as unknown as Show;
  expect(placeOf(show, null, null)).toEqual({ source: "host" });
  expect(placeOf(show, null, { mix: "viewers" })).toEqual({ mix: "viewers" });
  expect(placeOf(show, { kind: "source", source: "gone" }, { mix: "gone" })).toEqual({ source: "host" });
  expect(placeOf(show, { kind: "source", source: "music" }, { mix: "viewers" })).toEqual({ source: "music" });
  expect(placeOf({ sources: [], mixes: [] } as unknown as Show, null, null)).toBeNull();
});
