import { create } from "zustand";
import { actions } from "./actions";
import { type Chord, chordWords, isChord, isSingle } from "./chords";

/** This browser's choice of keys. */
export interface KeySettings {
  /** Whether keys of one character do anything where nothing is focused that takes them (WCAG 2.1.4). */
  single: boolean;
  /** Whether a pad's key plays it on every screen, where Alt is held. */
  padsElsewhere: boolean;
  /** By address: the chords that were chosen, none where it shall have none. What is left out has its own. */
  chosen: Readonly<Record<string, readonly Chord[]>>;
}

const stored = "kinetra.keys";
const asItComes: KeySettings = { single: true, padsElsewhere: true, chosen: {} };

/** The keys that do something where nobody has chosen others, by address. */
export const ownKeys: ReadonlyMap<string, readonly Chord[]> = new Map([
  ...actions.filter((a) => a.keys.length > 0).map((a) => [a.address, a.keys] as const),
  ...Array.from({ length: 9 }, (_, i) => [`listen/place/${i + 1}`, [`${i + 1}`]] as const),
]);

/** Reads keys that were kept or exported; throws with words where they are none. */
export function readKeys(text: string): KeySettings {
  let value: unknown;
  try {
    value = JSON.parse(text);
  } catch {
    throw new Error("This file is no JSON. Allowed: a file of keys that was exported here.");
  }
  if (typeof value !== "object" || value === null || Array.isArray(value))
    throw new Error("This file holds no keys. Allowed: a file of keys that was exported here.");
  const { single, padsElsewhere, chosen } = value as Record<string, unknown>;
  if (chosen !== undefined && (typeof chosen !== "object" || chosen === null || Array.isArray(chosen)))
    throw new Error("chosen: This is no list of keys by address. Allowed: addresses, each with its keys.");
  const read: Record<string, Chord[]> = {};
  const taken = new Map<Chord, string>();
  for (const [address, keys] of Object.entries(chosen ?? {})) {
    // Files of before had one letter for each.
    const list: unknown[] = Array.isArray(keys) ? keys : [keys];
    const wrong = list.find((k) => typeof k !== "string" || !isChord(k));
    if (wrong !== undefined || list.length > 4)
      throw new Error(
        `chosen.${address}: ${wrong === undefined ? "These are more than four keys" : `“${String(wrong)}” is no key`}. Allowed: up to four keys such as h or Ctrl+Shift+z.`,
      );
    for (const chord of list as Chord[]) {
      const other = taken.get(chord);
      if (other !== undefined)
        throw new Error(
          `chosen.${address}: ${chordWords(chord)} is the key of ${other} too. Allowed: one action a key.`,
        );
      taken.set(chord, address);
    }
    read[address] = list as Chord[];
  }
  return { single: single !== false, padsElsewhere: padsElsewhere !== false, chosen: read };
}

/** Keys as a file. */
export function writeKeys({ single, padsElsewhere, chosen }: KeySettings): string {
  return JSON.stringify({ kind: "kinetra-keys", version: 1, single, padsElsewhere, chosen }, null, 2);
}

function remembered(): KeySettings {
  try {
    return readKeys(localStorage.getItem(stored) ?? "{}");
  } catch {
    return asItComes;
  }
}

/** This browser's keys, kept over a reload. */
export const useKeySettings = create<KeySettings>(remembered);

useKeySettings.subscribe((settings) => {
  try {
    localStorage.setItem(stored, writeKeys(settings));
  } catch {
    // A browser that keeps nothing has the keys as they come.
  }
});

/** The keys of an address now. */
export function keysOf(address: string, { chosen }: KeySettings = useKeySettings.getState()): readonly Chord[] {
  return chosen[address] ?? ownKeys.get(address) ?? [];
}

/** What a chord does now: the address, or null. What was chosen goes before what comes so. */
export function addressOf(chord: Chord, settings: KeySettings = useKeySettings.getState()): string | null {
  if (!settings.single && isSingle(chord)) return null;
  for (const [address, keys] of Object.entries(settings.chosen)) if (keys.includes(chord)) return address;
  for (const [address, keys] of ownKeys)
    if (settings.chosen[address] === undefined && keys.includes(chord)) return address;
  return null;
}

/** Chords that stay what they are: they lead through the page, or belong to what is focused. */
const kept = new Set([
  "Tab",
  "Shift+Tab",
  "Enter",
  "Space",
  "ArrowLeft",
  "ArrowRight",
  "ArrowUp",
  "ArrowDown",
  "Backspace",
  "Home",
  "End",
  "m",
  "d",
]);

/** Chords that browsers keep for themselves, whatever a page wants. */
const browsers = new Set([
  "Ctrl+w",
  "Ctrl+t",
  "Ctrl+n",
  "Ctrl+Shift+w",
  "Ctrl+Shift+t",
  "Ctrl+Shift+n",
  "Ctrl+q",
  "F11",
  "F12",
  "Alt+F4",
  "Ctrl+Tab",
]);

/** Why a chord cannot be chosen for an address; null: it can. */
export function whyNot(
  chord: Chord,
  address: string,
  settings: KeySettings = useKeySettings.getState(),
): string | null {
  if (!isChord(chord)) return "This key cannot be chosen.";
  if (kept.has(chord)) return `${chordWords(chord)} leads through the page, or belongs to what is focused.`;
  if (browsers.has(chord)) return `Browsers keep ${chordWords(chord)} for themselves.`;
  if (/^Alt\+\p{L}$|^Alt\+\d$/u.test(chord) && settings.padsElsewhere)
    return `${chordWords(chord)} plays a pad on every screen.`;
  const other = addressOf(chord, { ...settings, single: true });
  return other !== null && other !== address ? `${chordWords(chord)} does something already:` : null;
}

/** Gives an action a key, in place of those that it has; null: none. */
export function chooseKey(address: string, chord: Chord | null) {
  useKeySettings.setState(({ chosen }) => ({ chosen: { ...chosen, [address]: chord === null ? [] : [chord] } }));
}

/** Takes a key from whatever has it, and gives it to an action. */
export function takeKey(address: string, chord: Chord) {
  const other = addressOf(chord, { ...useKeySettings.getState(), single: true });
  if (other !== null && other !== address)
    useKeySettings.setState((settings) => ({
      chosen: { ...settings.chosen, [other]: keysOf(other, settings).filter((k) => k !== chord) },
    }));
  chooseKey(address, chord);
}

/** Gives an action the keys that it comes with. One that another was given meanwhile stays with that. */
export function resetKey(address: string) {
  useKeySettings.setState(({ chosen }) => {
    const { [address]: _, ...others } = chosen;
    return { chosen: others };
  });
}

/** All keys as they come. */
export function resetKeys() {
  useKeySettings.setState(asItComes);
}
