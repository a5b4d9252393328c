import { type KeyboardEvent, useCallback, useLayoutEffect, useRef } from "react";

/** What takes part in a group with one Tab stop. Within a `data-row`, left and right go from one to the next; up and down go by rows. */
export const stop = { "data-stop": "" } as const;

/** Where Tab enters the group before anything in it had the focus. */
export const firstStop = { "data-stop": "first" } as const;

/**
 * Makes many things one Tab stop: Tab enters where the focus was last, arrows move it. What uses left and right, Home and End itself
 * (a slider) takes the keys before they get here.
 * @returns To be spread on the element that holds them.
 */
export function useRoving() {
  const holder = useRef<HTMLElement | null>(null);
  const current = useRef<HTMLElement | null>(null);

  const settle = useCallback(() => {
    const stops = stopsOf(holder.current);
    if (!current.current || !stops.includes(current.current)) {
      const key = current.current?.dataset.focus;
      current.current =
        stops.find((s) => key !== undefined && s.dataset.focus === key) ??
        stops.find((s) => s.dataset.stop === "first") ??
        stops[0] ??
        null;
    }
    for (const s of stops) s.tabIndex = s === current.current ? 0 : -1;
  }, []);

  // Whenever what holds them is drawn anew: some may have come or gone.
  useLayoutEffect(settle);

  return {
    ref: (element: HTMLElement | null) => {
      holder.current = element;
    },
    onFocus: (e: { target: EventTarget }) => {
      const found = stopsOf(holder.current).find((s) => s === e.target);
      if (!found) return;
      current.current = found;
      settle();
    },
    onKeyDown: (e: KeyboardEvent) => {
      if (e.defaultPrevented || e.ctrlKey || e.metaKey || e.altKey || e.shiftKey) return;
      const stops = stopsOf(holder.current);
      const from = stops.find((s) => s === e.target);
      const next = from && nextStop(stops, from, e.key);
      if (!next) return;
      e.preventDefault();
      e.stopPropagation();
      next.focus();
      next.scrollIntoView({ block: "nearest", inline: "nearest" });
    },
  };
}

function stopsOf(holder: HTMLElement | null): HTMLElement[] {
  return [...(holder?.querySelectorAll<HTMLElement>("[data-stop]:not(:disabled)") ?? [])];
}

function rowOf(stop: HTMLElement): Element {
  return stop.closest("[data-row]") ?? stop;
}

/** Where a key leads from a stop; undefined: nowhere. */
function nextStop(stops: HTMLElement[], from: HTMLElement, key: string): HTMLElement | undefined {
  const at = stops.indexOf(from);
  switch (key) {
    case "ArrowRight":
      return stops[at + 1];
    case "ArrowLeft":
      return stops[at - 1];
    case "Home":
      return stops[0];
    case "End":
      return stops.at(-1);
    case "ArrowDown":
    case "ArrowUp": {
      const rows = [...new Set(stops.map(rowOf))];
      const row = rows[rows.indexOf(rowOf(from)) + (key === "ArrowDown" ? 1 : -1)];
      if (!row) return undefined;
      const column = stops.filter((s) => rowOf(s) === rowOf(from)).indexOf(from);
      const there = stops.filter((s) => rowOf(s) === row);
      return there[Math.min(column, there.length - 1)];
    }
    default:
      return undefined;
  }
}
