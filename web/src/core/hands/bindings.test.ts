import { beforeEach, describe, expect, test, vi } from "vitest";

vi.stubGlobal("localStorage", { getItem: () => null, setItem: () => undefined });
const { actions, callsOf, callOf } = await import("./actions");
const {
  addressOf,
  chooseKey,
  keysOf,
  ownKeys,
  readKeys,
  resetKey,
  resetKeys,
  takeKey,
  useKeySettings,
  whyNot,
  writeKeys,
} = await import("./bindings");
const { chordOf, chordWords, isChord, isSingle } = await import("./chords");

beforeEach(() => resetKeys());

const pressed = (key: string, held = "", code = "") => ({
  key,
  code,
  ctrlKey: held.includes("c"),
  metaKey: held.includes("m"),
  altKey: held.includes("a"),
  shiftKey: held.includes("s"),
});

test("a key that was chosen acts, and the one before it no longer does", () => {
  chooseKey("hush", "q");
  expect(keysOf("hush")).toEqual(["q"]);
  expect(addressOf("q")).toBe("hush");
  expect(addressOf("h")).toBeNull();
  resetKey("hush");
  expect(addressOf("h")).toBe("hush");
});

test.each(["r", "1", "?", "Ctrl+z", "Ctrl+k"])(
  "a key that does something already is told, and with what: %s",
  (chord) => {
    expect(whyNot(chord, "hush")).toMatch(/already:$/);
    expect(addressOf(chord)).not.toBeNull();
  },
);

test.each(["Tab", "Enter", "ArrowUp", "Ctrl+w", "", "ab", "Alt+q", "m"])(
  "what leads through the page, what the browser keeps and what is no key cannot be chosen: %j",
  (chord) => {
    expect(whyNot(chord, "hush")).not.toBeNull();
  },
);

test("a key that is taken from something is its no more, and it can have it back", () => {
  takeKey("hush", "r");
  expect(addressOf("r")).toBe("hush");
  expect(keysOf("record")).toEqual([]);
  resetKey("hush");
  resetKey("record");
  expect(addressOf("r")).toBe("record");
});

test("of two keys of one action, taking one leaves the other", () => {
  takeKey("hush", "Ctrl+y");
  expect(addressOf("Ctrl+Shift+z")).toBe("redo");
});

test("with keys of one character switched off, only those with something held beside them act", () => {
  useKeySettings.setState({ single: false });
  expect(addressOf("h")).toBeNull();
  expect(addressOf("?")).toBeNull();
  expect(addressOf("Ctrl+z")).toBe("undo");
});

test("no two actions come with one key", () => {
  const all = [...ownKeys.values()].flat();
  expect(new Set(all).size).toBe(all.length);
  for (const chord of all) expect(isChord(chord), chord).toBe(true);
});

test.each([
  ["h", "", "", "h"],
  ["H", "s", "", "Shift+h"],
  ["?", "s", "", "?"],
  ["Z", "cs", "", "Ctrl+Shift+z"],
  ["k", "m", "", "Ctrl+k"],
  ["å", "a", "KeyA", "Alt+a"],
  ["PageDown", "", "", "PageDown"],
  [" ", "", "", "Space"],
])("keys that are down have one name: %s %s", (key, held, code, chord) => {
  expect(chordOf(pressed(key, held, code))).toBe(chord);
  expect(isChord(chord)).toBe(true);
});

test("what is only held beside others is no chord", () => {
  for (const key of ["Shift", "Control", "Alt", "Meta", "Dead", "AltGraph"]) expect(chordOf(pressed(key))).toBeNull();
});

test("a key with a modifier is not typed by accident; one character is", () => {
  expect(["h", "?", "Shift+h"].every(isSingle)).toBe(true);
  expect(["Ctrl+h", "Alt+h", "F2", "PageDown"].some(isSingle)).toBe(false);
  expect(chordWords("Ctrl+Shift+z")).toBe("Ctrl Shift Z");
});

describe("a file of keys", () => {
  test("holds what was chosen, and brings it back", () => {
    chooseKey("hush", "q");
    chooseKey("pad/bell/press", "F2");
    chooseKey("record", null);
    const text = writeKeys(useKeySettings.getState());
    resetKeys();
    useKeySettings.setState(readKeys(text));
    expect([addressOf("q"), addressOf("F2"), addressOf("r")]).toEqual(["hush", "pad/bell/press", null]);
  });

  test("of before, with one letter each, is read too", () => {
    expect(readKeys('{"single":true,"chosen":{"hush":"q"}}').chosen).toEqual({ hush: ["q"] });
  });

  test.each([
    "",
    "[]",
    "3",
    '{"chosen":[]}',
    '{"chosen":{"hush":["no key"]}}',
    '{"chosen":{"hush":[3]}}',
    '{"chosen":{"hush":["a","b","c","e","f"]}}',
    '{"chosen":{"hush":["q"],"record":["q"]}}',
  ])("that is none is refused with what is allowed: %s", (text) => {
    expect(() => readKeys(text)).toThrow(/Allowed: /);
  });
});

test("an action is found by its address with what it is done to, and by none that is gone", () => {
  const things = { mix: [{ id: "v", name: "Viewers" }], source: [{ id: "s", name: "Host mic" }] };
  expect(callOf("mix/v/source/s/dock", things)?.words).toBe("Dock Host mic in Viewers, or let it be heard there");
  expect(callOf("mix/v/source/gone/dock", things)).toBeNull();
  for (const action of actions)
    for (const call of callsOf(action, things)) expect(callOf(call.address, things)).toEqual(call);
});
