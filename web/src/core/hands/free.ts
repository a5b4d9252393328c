import { placeNow } from "@/core/place/place";

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

/** Whether a key that was pressed, or is held down, may act everywhere: nothing has taken it, and nothing is open or typed into that wants it. */
export function isFree(e: KeyboardEvent): boolean {
  return !(e.defaultPrevented || isTyping(e.target) || isLayerOpen());
}
