function kept(storage: Storage, key: string): string {
  try {
    const known = storage.getItem(key);
    if (known) return known;
    const made = crypto.randomUUID();
    storage.setItem(key, made);
    return made;
  } catch {
    // A browser that keeps nothing is another one after each reload.
    return crypto.randomUUID();
  }
}

/** This browser, recognised after a reload and a restart: microphones belong to it. */
export const browserId = kept(localStorage, "kinetra.browser");

/** This window, recognised after a reload. */
export const windowId = kept(sessionStorage, "kinetra.window");

/** What this window calls itself for other windows: "Firefox on Linux". */
export const windowName = `${browserName()} on ${systemName()}`;

function browserName(): string {
  const brands = (navigator as { userAgentData?: { brands?: { brand: string }[] } }).userAgentData?.brands;
  const brand = brands?.map((b) => b.brand).find((b) => !/brand/i.test(b));
  if (brand) return brand.slice(0, 30);
  return /(Firefox|Safari|Chrome)/.exec(navigator.userAgent)?.[1] ?? "A browser";
}

function systemName(): string {
  return /(Windows|Mac|Android|iPhone|iPad|Linux)/.exec(navigator.userAgent)?.[1] ?? "some system";
}
