import { expect, test } from "vitest";
import type { Take } from "@/core/api/client";
import { endsBetween } from "./ends";

const take = (of: Partial<Take>) =>
  ({ id: "a", name: "Evening", state: "Recording", endedBecause: null, copy: null, ...of }) as Take;
const copy = (words: string | null) => ({ folder: "/media/second", isUsed: false, words });

test("a take that ends by itself is told with why, one that was ended is not", () => {
  const cut = take({ state: "Interrupted", endedBecause: "The disk took no more." });
  expect(endsBetween([take({})], [cut])).toEqual([
    { title: "“Evening” ended by itself: nothing is recorded now.", detail: "The disk took no more." },
  ]);
  expect(endsBetween([take({})], [take({ state: "Done" })])).toEqual([]);
  expect(endsBetween([cut], [cut])).toEqual([]);
  expect(endsBetween([], [cut])).toEqual([]);
});

test("a folder that takes no more is told once, also where it took nothing from the start", () => {
  const left = take({ copy: copy("The second folder took no more.") });
  const told = [{ title: "A take is written to one folder only.", detail: "The second folder took no more." }];
  expect(endsBetween([take({ copy: copy(null) })], [left])).toEqual(told);
  expect(endsBetween([], [left])).toEqual(told);
  expect(endsBetween([left], [take({ ...left, state: "Done" })])).toEqual([]);
  expect(endsBetween([], [take({ ...left, state: "Done" })])).toEqual([]);
});
