import { create } from "zustand";

const stored = "kinetra.scale";

/** How large everything can be shown, percent. */
export const scales = [80, 90, 100, 110, 125, 150, 175, 200] as const;

function remembered(): number {
  try {
    const kept = Number(localStorage.getItem(stored));
    return scales.some((s) => s === kept) ? kept : 100;
  } catch {
    return 100;
  }
}

/** How large this browser shows everything, percent; kept over a reload. */
export const useScale = create<{ scale: number }>(() => ({ scale: remembered() }));

/** By how much what is drawn is larger than its own pixels: where the pointer is counts in those of the screen, where something is put in its own. */
export function zoomNow(): number {
  return useScale.getState().scale / 100;
}

/** Shows everything at a scale: the nearest that there is. */
export function showAt(scale: number) {
  const nearest = scales.reduce((a, b) => (Math.abs(b - scale) < Math.abs(a - scale) ? b : a));
  useScale.setState({ scale: nearest });
}

/** Shows everything one step larger, or smaller. */
export function scaleBy(steps: 1 | -1) {
  const at = scales.indexOf(useScale.getState().scale as (typeof scales)[number]);
  showAt(scales[Math.min(scales.length - 1, Math.max(0, at + steps))] ?? 100);
}

/** Applies it to a page, from now on. */
export function startScale(root: HTMLElement = document.documentElement) {
  const apply = ({ scale }: { scale: number }) => {
    root.style.setProperty("zoom", scale === 100 ? "" : `${scale / 100}`);
    root.style.setProperty("--zoom", scale === 100 ? "" : `${scale / 100}`);
  };
  apply(useScale.getState());
  useScale.subscribe((state) => {
    apply(state);
    try {
      localStorage.setItem(stored, `${state.scale}`);
    } catch {
      // A browser that keeps nothing shows it as it comes after a reload.
    }
  });
}
