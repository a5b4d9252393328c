import { placeNow } from "@/core/place/place";

interface Ahead {
  text: string;
  /** Enter was pressed behind it. */
  enter: boolean;
}

let ahead: Ahead = { text: "", enter: false };

/** Keeps a key that was meant for the palette's field. */
export function keep(e: KeyboardEvent) {
  if (placeNow().layer !== "palette") {
    takeAhead();
    return;
  }
  if (e.ctrlKey || e.metaKey || e.altKey || ahead.enter) return;
  if ([...e.key].length === 1) ahead.text += e.key;
  else if (e.key === "Backspace") ahead.text = ahead.text.slice(0, -1);
  else if (e.key === "Enter") ahead.enter = true;
  else return;
  e.preventDefault();
  e.stopImmediatePropagation();
}

/** From now on, what is typed is kept for the palette's field until that is there: quick hands lose no letter, and do nothing else by it. */
export function typeAhead() {
  takeAhead();
  window.addEventListener("keydown", keep, { capture: true });
}

/** What was typed meanwhile; from then on the field hears it itself. */
export function takeAhead(): Ahead {
  window.removeEventListener("keydown", keep, { capture: true });
  const taken = ahead;
  ahead = { text: "", enter: false };
  return taken;
}
