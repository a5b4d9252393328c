import { create } from "zustand";
import { repaint } from "@/core/meters/meters";

/** Values that are heard at this moment but not stored, by what they are of: this window's own, and other windows'. */
export function makePreviews<T>() {
  const use = create<{ values: Record<string, T> }>(() => ({ values: {} }));

  // What this window itself sets: nobody else's preview moves it.
  const own = new Set<string>();

  const show = (key: string, value: T) => {
    repaint();
    use.setState(({ values }) => ({ values: { ...values, [key]: value } }));
  };

  const forget = (key: string) => {
    repaint();
    use.setState(({ values }) => {
      const { [key]: _, ...rest } = values;
      return { values: rest };
    });
  };

  return {
    use,
    get: (key: string): T | undefined => use.getState().values[key],
    /** This window sets it. */
    set: (key: string, value: T) => {
      own.add(key);
      show(key, value);
    },
    /** It is over here: what is stored counts again. */
    end: (key: string) => {
      own.delete(key);
      forget(key);
    },
    /** Another window sets it. */
    setByOther: (key: string, value: T) => {
      if (own.has(key)) return;
      show(key, value);
    },
    /** Another show is live: what anybody set was of the one before. */
    endAll: () => {
      own.clear();
      for (const key of Object.keys(use.getState().values)) forget(key);
    },
    /** Nobody knows any more what other windows set. */
    endAllByOthers: () => {
      for (const key of Object.keys(use.getState().values)) if (!own.has(key)) forget(key);
    },
    /** Another window sets it no longer. */
    endByOther: (key: string) => {
      if (!own.has(key)) forget(key);
    },
  };
}
