import { expect, test } from "vitest";
import { freeName, isTaken, longestName, readName } from "./names";

const others = [{ name: "Host mic" }, { name: "host MIC (2)" }];

test("a name is taken whatever its letters' case and what surrounds it", () => {
  expect(isTaken(" HOST mic ", others)).toBe(true);
  expect(isTaken("Host mic 2", others)).toBe(false);
});

test("a free name is the one that is wanted, or with the first number that is free", () => {
  expect(freeName("Sea mic", others)).toBe("Sea mic");
  expect(freeName("Host mic", others)).toBe("Host mic (3)");
});

test("what is blank or too long is no name", () => {
  expect(readName("  Sea mic ")).toBe("Sea mic");
  expect(readName("   ")).toBeNull();
  expect(readName("n".repeat(longestName))).toHaveLength(longestName);
  expect(readName("n".repeat(longestName + 1))).toBeNull();
});
