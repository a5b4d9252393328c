import { create } from "zustand";
import { placeNow } from "@/core/place/place";

/** What a key of one letter does everywhere; a person can choose another key for it. */
export const letterCommands = {
  hush: { key: "h", does: "Hush: silence for every listener, and back" },
  record: { key: "r", does: "Record, and end the take" },
} as const;

export type LetterCommand = keyof typeof letterCommands;

export interface KeySettings {
  /** Whether keys of one character do anything where nothing is focused that takes them (WCAG 2.1.4). */
  single: boolean;
  chosen: Partial<Record<LetterCommand, string>>;
}

const stored = "kinetra.keys";

function remembered(): KeySettings {
  try {
    const { single, chosen } = JSON.parse(localStorage.getItem(stored) ?? "{}") as Partial<KeySettings>;
    return { single: single !== false, chosen: typeof chosen === "object" && chosen !== null ? chosen : {} };
  } catch {
    return { single: true, chosen: {} };
  }
}

/** This browser's choice of keys, kept over a reload. */
export const useKeySettings = create<KeySettings>(remembered);

useKeySettings.subscribe((settings) => {
  try {
    localStorage.setItem(stored, JSON.stringify(settings));
  } catch {
    // A browser that keeps nothing has the keys as they come.
  }
});

/** The key of a command now. */
export function keyOf(command: LetterCommand, { chosen }: KeySettings = useKeySettings.getState()): string {
  return chosen[command] ?? letterCommands[command].key;
}

/** Why a key cannot be chosen for a command; null: it can. */
export function whyNot(key: string, command: LetterCommand, settings: KeySettings): string | null {
  if (!/^\p{L}$/u.test(key)) return "One letter, please.";
  const other = (Object.keys(letterCommands) as LetterCommand[]).find(
    (c) => c !== command && keyOf(c, settings) === key.toLowerCase(),
  );
  return other ? "That letter does something already." : null;
}

/** Chooses another key for a command. */
export function chooseKey(command: LetterCommand, key: string) {
  useKeySettings.setState(({ chosen }) => ({ chosen: { ...chosen, [command]: key.toLowerCase() } }));
}

/** The command of a letter, or null. */
export function commandOf(key: string, settings: KeySettings): LetterCommand | null {
  const commands = Object.keys(letterCommands) as LetterCommand[];
  return commands.find((c) => keyOf(c, settings) === key.toLowerCase()) ?? null;
}

function isTyping(target: EventTarget | null): boolean {
  return (
    target instanceof HTMLElement && (target.isContentEditable || /^(INPUT|TEXTAREA|SELECT)$/.test(target.tagName))
  );
}

/** True while a menu, a list of choices or a dialog is open: letters search in it, and must do nothing else. */
function isLayerOpen(): boolean {
  // The address says so first: its code may be on its way.
  if (placeNow().layer !== null) return true;
  return document.querySelector('[role="menu"], [role="listbox"], [role="dialog"], [role="alertdialog"]') !== null;
}

/** Whether a key that was pressed may act everywhere: nothing has taken it, and nothing is open or typed into that wants it. */
export function isFree(e: KeyboardEvent): boolean {
  return !(e.defaultPrevented || e.repeat || e.altKey || isTyping(e.target) || isLayerOpen());
}
