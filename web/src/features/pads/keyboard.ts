/** A key's place: by the code that a keyboard sends for it, whatever is printed on it (W3C UI Events, KeyboardEvent code values). */
export type Code = string;

/** The writing rows from the top, and how far each is set in, in keys. */
export const rows: readonly { codes: readonly Code[]; inset: number }[] = [
  {
    codes: [..."1234567890"].map((n) => `Digit${n}`).concat("Minus", "Equal"),
    inset: 0,
  },
  { codes: letters("QWERTYUIOP").concat("BracketLeft", "BracketRight"), inset: 0.5 },
  { codes: letters("ASDFGHJKL").concat("Semicolon", "Quote", "Backslash"), inset: 0.75 },
  { codes: ["IntlBackslash", ...letters("ZXCVBNM"), "Comma", "Period", "Slash"], inset: 0.25 },
];

/** The number block. */
export const block: readonly (readonly Code[])[] = [
  ["Numpad7", "Numpad8", "Numpad9"],
  ["Numpad4", "Numpad5", "Numpad6"],
  ["Numpad1", "Numpad2", "Numpad3"],
  ["Numpad0", "NumpadDecimal", "NumpadAdd"],
];

/** In this order sounds that come together are laid on keys: where hands rest first. */
export const layingOrder: readonly Code[] = [
  ...letters("ASDFGHJKL"),
  ...letters("QWERTYUIOP"),
  ...letters("ZXCVBNM"),
  ...[..."1234567890"].map((n) => `Digit${n}`),
];

const codes = new Set<Code>([...rows.flatMap((r) => r.codes), ...block.flat(), "Backquote", "IntlRo", "IntlYen"]);

/** True for a key that a pad can lie on. */
export function isPadKey(code: Code): boolean {
  return codes.has(code);
}

/** Layouts to choose from, where the browser does not say what is printed on its keys: what differs from the first. */
export const layouts = {
  us: { words: "QWERTY", keys: {} },
  uk: { words: "QWERTY, British", keys: { Quote: "'", Backslash: "#", IntlBackslash: "\\" } },
  de: {
    words: "QWERTZ",
    keys: {
      KeyY: "Z",
      KeyZ: "Y",
      Minus: "ß",
      Equal: "´",
      BracketLeft: "Ü",
      BracketRight: "+",
      Semicolon: "Ö",
      Quote: "Ä",
      Backslash: "#",
      IntlBackslash: "<",
      Slash: "-",
    },
  },
  fr: {
    words: "AZERTY",
    keys: {
      KeyQ: "A",
      KeyA: "Q",
      KeyW: "Z",
      KeyZ: "W",
      Semicolon: "M",
      KeyM: ",",
      Comma: ";",
      Period: ":",
      Slash: "!",
      Minus: ")",
      Equal: "=",
      BracketLeft: "^",
      BracketRight: "$",
      Quote: "ù",
      Backslash: "*",
      IntlBackslash: "<",
    },
  },
} as const satisfies Record<string, { words: string; keys: Record<Code, string> }>;

export type LayoutName = keyof typeof layouts;

const plain: Record<Code, string> = {
  Minus: "-",
  Equal: "=",
  BracketLeft: "[",
  BracketRight: "]",
  Semicolon: ";",
  Quote: "'",
  Backquote: "`",
  Backslash: "\\",
  Comma: ",",
  Period: ".",
  Slash: "/",
  IntlBackslash: "\\",
  IntlRo: "\\",
  IntlYen: "¥",
  NumpadAdd: "+",
  NumpadSubtract: "−",
  NumpadMultiply: "×",
  NumpadDivide: "÷",
  NumpadDecimal: ".",
};

/** What is printed on a key: as the browser says, or else by a layout. */
export function printedOn(code: Code, reported: ReadonlyMap<string, string> | null, layout: LayoutName): string {
  const own = reported?.get(code);
  if (own) return own.toLocaleUpperCase();
  const other = (layouts[layout].keys as Record<Code, string>)[code];
  return other ?? plain[code] ?? code.replace(/^(Key|Digit|Numpad)/, "");
}

/** The same, in words that tell the number block apart. */
export function keyWords(code: Code, printed: string): string {
  return code.startsWith("Numpad") ? `${printed} of the number block` : printed;
}

/** Keys for sounds that come together: the free ones, in the order of laying; "" where none is left. */
export function freeKeys(taken: Iterable<Code>, count: number): Code[] {
  const used = new Set(taken);
  const free = layingOrder.filter((code) => !used.has(code));
  return Array.from({ length: count }, (_, i) => free[i] ?? "");
}

function letters(text: string): Code[] {
  return [...text].map((letter) => `Key${letter}`);
}
