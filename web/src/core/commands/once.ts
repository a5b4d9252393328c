import { useMemo } from "react";

/** Lets nothing begin before the last has been answered, however quick the hand: that a button rests shows a moment later only. */
export function useOneAtATime() {
  return useMemo(() => {
    let busy = false;
    return {
      begin: (act: () => void) => {
        if (busy) return;
        busy = true;
        act();
      },
      end: () => {
        busy = false;
      },
    };
  }, []);
}
