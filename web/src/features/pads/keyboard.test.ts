import { expect, test } from "vitest";
import { block, freeKeys, isPadKey, keyWords, layingOrder, printedOn, rows } from "./keyboard";

test("every key is drawn once, and sounds are laid on drawn keys alone", () => {
  const drawn = [...rows.flatMap((r) => r.codes), ...block.flat()];
  expect(new Set(drawn).size).toBe(drawn.length);
  expect(layingOrder.filter((code) => !drawn.includes(code))).toEqual([]);
  expect(new Set(layingOrder).size).toBe(layingOrder.length);
  expect(drawn.every(isPadKey)).toBe(true);
});

test.each(["Enter", "Space", "ShiftLeft", "Escape", "F1", "ArrowUp", "", "Backspace"])("no pad lies on %s", (code) => {
  expect(isPadKey(code)).toBe(false);
});

test("what the browser says is printed on a key counts before any layout", () => {
  expect(printedOn("KeyZ", new Map([["KeyZ", "y"]]), "us")).toBe("Y");
  expect(printedOn("KeyZ", null, "de")).toBe("Y");
  expect(printedOn("KeyA", null, "fr")).toBe("Q");
  expect(printedOn("Digit4", null, "de")).toBe("4");
  expect(printedOn("Numpad5", null, "us")).toBe("5");
  expect(keyWords("Numpad5", "5")).toBe("5 of the number block");
});

test("of many sounds each gets a free key, and the last ones none", () => {
  const keys = freeKeys(["KeyA", "KeyS"], 60);
  expect(keys).toHaveLength(60);
  expect(keys.slice(0, 2)).toEqual(["KeyD", "KeyF"]);
  const laid = keys.filter((k) => k !== "");
  expect(laid).toHaveLength(layingOrder.length - 2);
  expect(new Set(laid).size).toBe(laid.length);
});
