import { actionOf } from "./actions";
import { addressOf, useKeySettings } from "./bindings";
import { chordOf } from "./chords";
import { isFree } from "./free";
import { perform } from "./perform";

/** What this window holds down, by the code of the key that holds it. */
const held = new Map<string, string>();

/** Some actions have their own keys only while what they belong to is shown: a page must scroll where there are no cues. */
const shown = new Map<string, number>();

/** Lets the own keys of some actions act, until that is taken back. What a person has chosen acts everywhere. */
export function withKeysOf(...addresses: string[]): () => void {
  for (const a of addresses) shown.set(a, (shown.get(a) ?? 0) + 1);
  return () => {
    for (const a of addresses) shown.set(a, (shown.get(a) ?? 0) - 1);
  };
}

const onlyShown = new Set(["cue/next", "cue/back"]);

/** A pad that lies on a key, by the key's code: on every screen it is played with Alt. */
let padOn: (code: string) => string | null = () => null;

/** Says which pad lies on which key. */
export function padsAre(on: (code: string) => string | null) {
  padOn = on;
}

/** Acts on a key that goes down. */
export function pressKey(e: KeyboardEvent) {
  if (!isFree(e)) return;
  const chord = chordOf(e);
  if (chord === null) return;
  const settings = useKeySettings.getState();
  const pad = settings.padsElsewhere && e.altKey && !e.ctrlKey && !e.metaKey && !e.shiftKey ? padOn(e.code) : null;
  const address = pad === null ? addressOf(chord, settings) : `pad/${pad}/press`;
  if (address === null) return;
  if (onlyShown.has(address) && settings.chosen[address] === undefined && !shown.get(address)) return;
  e.preventDefault();
  if (e.repeat) return;
  if (actionOf(address)?.value === "Held") {
    releaseKey(e.code);
    held.set(e.code, address);
    perform(address, { value: "on" });
  } else perform(address);
}

/** Lets go of what a key holds. */
export function releaseKey(code: string) {
  const address = held.get(code);
  if (address === undefined) return;
  held.delete(code);
  perform(address, { value: "off" });
}

/** Lets go of everything: the window has lost the focus, and would not hear of a key that goes up. */
export function releaseKeys() {
  for (const code of [...held.keys()]) releaseKey(code);
}
