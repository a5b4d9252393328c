import { isFree } from "@/core/hands/free";

/** Keys that were pressed before what they do has come: no keystroke is lost, however quick the hands. */
let early: KeyboardEvent[] | null = [];

const keep = (e: KeyboardEvent) => {
  if (early && early.length < 100 && !e.repeat && isFree(e)) early.push(e);
};

window.addEventListener("keydown", keep);

/** Those keys, once; from then on they are heard as they come. */
export function earlyKeys(): KeyboardEvent[] {
  window.removeEventListener("keydown", keep);
  const keys = early ?? [];
  early = null;
  return keys;
}
