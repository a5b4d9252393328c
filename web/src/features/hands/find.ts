import { type Action, actions, type Call, callsOf, type Things } from "@/core/hands/actions";

/** Small letters, without accents, so that nobody has to type them. */
function plain(text: string): string {
  return text.normalize("NFD").replace(/\p{M}/gu, "").toLowerCase();
}

/** A number at the end of what was typed, dB: what a level is to be. */
export function numberIn(text: string): string | null {
  return (
    /(?:^|\s)([+−-]?\d{1,3}(?:[.,]\d+)?)\s*(?:dB)?\s*$/iu.exec(text)?.[1]?.replace("−", "-").replace(",", ".") ?? null
  );
}

/** Whether an action is told a number. */
export function takesNumber(action: Action): boolean {
  return action.value === "Decibels" || action.value === "Step";
}

/**
 * What can be done that has all words typed in its own, in the order of the table; those that begin with a word typed come first.
 * A number at the end is the value of a level, and no word.
 */
export function findCalls(text: string, things: Things, most: number): Call[] {
  const number = numberIn(text);
  const words = plain(text).split(/\s+/).filter(Boolean);
  const left = number === null ? words : words.filter((w) => !/^[+−-]?\d+([.,]\d+)?(db)?$/u.test(w) && w !== "db");
  const good: Call[] = [];
  const rest: Call[] = [];
  for (const action of actions) {
    // A number chooses levels, where there is anything beside it.
    const own = number !== null && takesNumber(action) ? left : words;
    for (const call of callsOf(action, things)) {
      const line = ` ${plain(call.words)}`;
      if (!own.every((w) => line.includes(w))) continue;
      if (own.every((w) => line.includes(` ${w}`))) good.push(call);
      else if (rest.length < most) rest.push(call);
      if (good.length >= most) return good;
    }
  }
  return [...good, ...rest].slice(0, most);
}
