import { expect, test } from "vitest";
import type { Processor } from "@/core/api/client";
import { stepped } from "./stepped";

const of = (id: string): Processor => ({ id, type: "utility", bypassed: false, values: { gain: 1 }, keys: [] });
const chain = ["a", "b", "c"].map(of);
const ids = (of: Processor[]) => of.map((p) => p.id);

test("what is added stands where it is wanted, or last", () => {
  expect(ids(stepped(chain, { kind: "add", type: "gate", index: 1 }, [of("n")]))).toEqual(["a", "n", "b", "c"]);
  expect(ids(stepped(chain, { kind: "add", type: "gate" }, [of("n")]))).toEqual(["a", "b", "c", "n"]);
});

test("what is moved, removed, doubled or bypassed is that alone", () => {
  expect(ids(stepped(chain, { kind: "move", processor: "c", index: 0 }))).toEqual(["c", "a", "b"]);
  expect(ids(stepped(chain, { kind: "remove", processor: "b" }))).toEqual(["a", "c"]);
  const doubled = stepped(chain, { kind: "duplicate", processor: "a", index: 0 });
  expect(doubled).toHaveLength(4);
  expect(doubled[1]?.values).toEqual({ gain: 1 });
  expect(new Set(ids(doubled)).size).toBe(4);
  expect(stepped(chain, { kind: "bypass", bypassed: true }).every((p) => p.bypassed)).toBe(true);
});

test("what is gone already changes nothing", () => {
  expect(stepped(chain, { kind: "move", processor: "x", index: 0 })).toBe(chain);
  expect(stepped(chain, { kind: "duplicate", processor: "x", index: 0 })).toBe(chain);
});
