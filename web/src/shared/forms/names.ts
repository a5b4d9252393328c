/** The longest name, characters as the server counts them. */
export const longestName = 60;

/** What is allowed, in words. */
export const nameAllowed = `1 to ${longestName} characters`;

export interface Named {
  name: string;
}

/** Whether two names would be taken for one. The server's rule is the same. */
function same(a: string, b: string) {
  return a.trim().toLowerCase() === b.trim().toLowerCase();
}

/** Whether one of these is called so already. */
export function isTaken(name: string, others: readonly Named[]): boolean {
  return others.some((o) => same(o.name, name));
}

/** A name as it was typed, without what surrounds it; null: it is none. */
export function readName(text: string): string | null {
  const name = text.trim();
  return name.length > 0 && name.length <= longestName ? name : null;
}

/** The name that is wanted, or with a number where one of these has it. */
export function freeName(wanted: string, others: readonly Named[]): string {
  let name = wanted;
  for (let n = 2; isTaken(name, others); n++) name = `${wanted} (${n})`;
  return name;
}
