import { create } from "zustand";
import type { Gain } from "../api/client";
import { repaint } from "../live/meters";

interface DragState {
  /** Gains that are being dragged, here or in another window, by mix and source. */
  gains: Record<string, Gain>;
}

/** What is heard at this moment but not stored. */
export const useDrags = create<DragState>(() => ({ gains: {} }));

const timers = new Map<string, number>();

// What this window itself drags: nobody else's preview moves it.
const own = new Set<string>();

// Another window that goes away in the middle of a drag never says that it ended.
const forgottenAfter = 1500;

export function dragKey(mix: string, source: string): string {
  return `${mix}/${source}`;
}

/** The gain that a send is dragged to, or undefined. */
export function draggedGain(mix: string, source: string): Gain | undefined {
  return useDrags.getState().gains[dragKey(mix, source)];
}

/** This window drags a send. */
export function setDrag(mix: string, source: string, gain: Gain) {
  const key = dragKey(mix, source);
  own.add(key);
  show(key, gain);
}

function show(key: string, gain: Gain) {
  repaint();
  useDrags.setState(({ gains }) => ({ gains: { ...gains, [key]: gain } }));
}

/** The drag is over: the stored gain counts again. */
export function endDrag(mix: string, source: string) {
  const key = dragKey(mix, source);
  own.delete(key);
  forget(key);
}

function forget(key: string) {
  repaint();
  clearTimeout(timers.get(key));
  timers.delete(key);
  useDrags.setState(({ gains }) => {
    const { [key]: _, ...rest } = gains;
    return { gains: rest };
  });
}

/** Another window drags a send. */
export function setPreview(mix: string, source: string, gain: Gain) {
  const key = dragKey(mix, source);
  if (own.has(key)) return;
  show(key, gain);
  clearTimeout(timers.get(key));
  timers.set(
    key,
    window.setTimeout(() => forget(key), forgottenAfter),
  );
}

/** Another window drags a send no longer. */
export function endPreviewed(mix: string, source: string) {
  const key = dragKey(mix, source);
  if (!own.has(key)) forget(key);
}
