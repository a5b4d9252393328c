import { expect, test } from "vitest";
import { applyPatch } from "./patch";

const document = {
  name: "a",
  list: [
    { id: "x", inner: [1, 2, 3] },
    { id: "y", inner: [4] },
  ],
  other: { deep: {} },
};

test("what operations do not touch stays the same object", () => {
  const patched = applyPatch(document, [{ op: "replace", path: "/list/0/inner/1", value: 9 }]);
  expect(patched.list[0]?.inner).toEqual([1, 9, 3]);
  expect(patched.list[1]).toBe(document.list[1]);
  expect(patched.other).toBe(document.other);
  expect(document.list[0]?.inner).toEqual([1, 2, 3]);
});

test("operations act one after the other, each on what the one before has made", () => {
  const patched = applyPatch(document, [
    { op: "remove", path: "/list/0", value: null },
    { op: "add", path: "/list/1", value: { id: "z", inner: [] } },
    { op: "add", path: "/list/0/inner/0", value: 0 },
    { op: "replace", path: "/name", value: "b" },
  ]);
  expect(patched).toEqual({
    name: "b",
    list: [
      { id: "y", inner: [0, 4] },
      { id: "z", inner: [] },
    ],
    other: { deep: {} },
  });
});

test.each(["/list/2/inner", "/list/5", "/list/-1", "/list/x", "/name/3"])(
  "a place that is not there is an error and not another document: %s",
  (path) => {
    expect(() => applyPatch(document, [{ op: "replace", path, value: 1 }])).toThrow();
  },
);
