import { beforeEach, expect, test, vi } from "vitest";

vi.stubGlobal("localStorage", { getItem: () => null, setItem: () => undefined });
const { chooseKey, commandOf, keyOf, useKeySettings, whyNot } = await import("./keys");

beforeEach(() => useKeySettings.setState({ single: true, chosen: {} }));

test("a key that was chosen acts, and the one before it no longer does", () => {
  chooseKey("hush", "Q");
  const settings = useKeySettings.getState();
  expect(keyOf("hush")).toBe("q");
  expect(commandOf("q", settings)).toBe("hush");
  expect(commandOf("Q", settings)).toBe("hush");
  expect(commandOf("h", settings)).toBeNull();
});

test.each(["r", "R", "1", "?", "", "ab", " "])("what is taken or no letter cannot be chosen: %j", (key) => {
  expect(whyNot(key, "hush", useKeySettings.getState())).not.toBeNull();
});

test("a letter that was given up is free again", () => {
  chooseKey("record", "t");
  expect(whyNot("r", "hush", useKeySettings.getState())).toBeNull();
});
