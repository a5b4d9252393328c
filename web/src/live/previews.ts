import { create } from "zustand";
import { repaint } from "./meters";

// Another window that goes away in the middle of a gesture never says that it ended.
const forgottenAfter = 1500;

/** Values that are heard at this moment but not stored, by what they are of: this window's own, and other windows'. */
export function makePreviews<T>() {
  const use = create<{ values: Record<string, T> }>(() => ({ values: {} }));
  const timers = new Map<string, number>();

  // What this window itself sets: nobody else's preview moves it.
  const own = new Set<string>();

  const show = (key: string, value: T) => {
    repaint();
    use.setState(({ values }) => ({ values: { ...values, [key]: value } }));
  };

  const forget = (key: string) => {
    repaint();
    clearTimeout(timers.get(key));
    timers.delete(key);
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
      clearTimeout(timers.get(key));
      timers.set(
        key,
        window.setTimeout(() => forget(key), forgottenAfter),
      );
    },
    /** Another window sets it no longer. */
    endByOther: (key: string) => {
      if (!own.has(key)) forget(key);
    },
  };
}
