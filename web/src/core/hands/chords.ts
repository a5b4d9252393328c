/** A key with what is held beside it, as text: `h`, `?`, `Ctrl+Shift+z`, `Alt+F2`. Of a character that Shift makes, Shift is not said. */
export type Chord = string;

const modifiers = new Set([
  "Control",
  "Shift",
  "Alt",
  "Meta",
  "AltGraph",
  "CapsLock",
  "NumLock",
  "Dead",
  "Process",
  "Unidentified",
]);

interface Pressed {
  key: string;
  code?: string;
  ctrlKey: boolean;
  metaKey: boolean;
  altKey: boolean;
  shiftKey: boolean;
}

/** The chord of keys that are down; null: only what is held beside others. The command key of a Mac counts as Ctrl. */
export function chordOf(e: Pressed): Chord | null {
  if (modifiers.has(e.key)) return null;
  const key = nameOf(e);
  const isCharacter = [...key].length === 1;
  const isLetter = /^\p{L}$/u.test(key);
  return [
    e.ctrlKey || e.metaKey ? "Ctrl" : "",
    e.altKey ? "Alt" : "",
    e.shiftKey && (!isCharacter || isLetter) ? "Shift" : "",
    key,
  ]
    .filter(Boolean)
    .join("+");
}

// With Alt, some systems make another character of a letter: the key's own letter is meant.
function nameOf(e: Pressed): string {
  const own = e.altKey ? /^(?:Key([A-Z])|Digit(\d))$/.exec(e.code ?? "") : null;
  const key = own?.[1] ?? own?.[2] ?? e.key;
  if (key === " ") return "Space";
  return [...key].length === 1 ? key.toLowerCase() : key;
}

/** Whether a text is a chord. */
export function isChord(text: string): boolean {
  return /^(Ctrl\+)?(Alt\+)?(Shift\+)?([A-Z][A-Za-z0-9]{1,20}|[^\s])$/u.test(text);
}

/** True for one character alone, which a person may type where they do not mean it. */
export function isSingle(chord: Chord): boolean {
  return [...chord].length === 1 || /^Shift\+\p{L}$/u.test(chord);
}

const words: Record<string, string> = {
  ArrowLeft: "←",
  ArrowRight: "→",
  ArrowUp: "↑",
  ArrowDown: "↓",
  PageUp: "Page ↑",
  PageDown: "Page ↓",
  Escape: "Esc",
};

/** A chord as it is shown: "Ctrl Shift Z". */
export function chordWords(chord: Chord): string {
  const parts = chord === "+" ? ["+"] : chord.replace(/\+\+$/, "+plus").split("+");
  return parts.map((p) => (p === "plus" ? "+" : (words[p] ?? (p.length === 1 ? p.toUpperCase() : p)))).join(" ");
}
