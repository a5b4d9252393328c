import { create } from "zustand";
import type { Show } from "@/core/api/client";

/** The show as a change will make it. */
export type Foresee = (show: Show) => Show;

/** What this window has changed and the server has not answered yet, in order. */
export const usePending = create<{ changes: readonly Foresee[] }>(() => ({ changes: [] }));

/** Keeps a change on top of whatever the server tells, until it is over: an older answer takes nothing back on the screen. */
export function keepOnTop(change: Foresee): () => void {
  // By itself, though the same function may be there twice.
  const mine: Foresee = (show) => change(show);
  usePending.setState(({ changes }) => ({ changes: [...changes, mine] }));
  return () => usePending.setState(({ changes }) => ({ changes: changes.filter((c) => c !== mine) }));
}

let last: { told: Show; changes: readonly Foresee[]; shown: Show } | null = null;

/** What is shown: the server's document with the changes on it that are not answered yet. The same of both gives the same object. */
export function withPending(told: Show, changes: readonly Foresee[]): Show {
  if (changes.length === 0) return told;
  if (last?.told !== told || last.changes !== changes) {
    last = { told, changes, shown: changes.reduce((show, change) => change(show), told) };
  }
  return last.shown;
}
