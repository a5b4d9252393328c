import { create } from "zustand";
import { type Selection, select } from "./place";

/** How often somebody went into the inspector by keys. */
export const useEntry = create(() => ({ count: 0 }));

let taken = 0;

/** Selects something, and takes the focus along into the inspector. */
export function enter(selection: NonNullable<Selection>) {
  useEntry.setState(({ count }) => ({ count: count + 1 }));
  select(selection);
}

/** Whether somebody is on the way into the inspector; asked once, by the inspector that takes him in. */
export function takeEntry(): boolean {
  const { count } = useEntry.getState();
  if (taken === count) return false;
  taken = count;
  return true;
}
