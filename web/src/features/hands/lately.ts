const stored = "kinetra.lately";
const most = 8;

/** What was done from the palette lately in this browser, newest first, by address. */
export function lately(): string[] {
  try {
    const list: unknown = JSON.parse(localStorage.getItem(stored) ?? "[]");
    return Array.isArray(list) ? list.filter((a) => typeof a === "string").slice(0, most) : [];
  } catch {
    return [];
  }
}

/** Remembers that something was done. */
export function remember(address: string) {
  try {
    localStorage.setItem(stored, JSON.stringify([address, ...lately().filter((a) => a !== address)].slice(0, most)));
  } catch {
    // A browser that keeps nothing has no lately.
  }
}
