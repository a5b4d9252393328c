import { useEffect, useState } from "react";
import { create } from "zustand";
import type { LayoutName } from "./keyboard";

interface View {
  /** Whether hands play pads, or lay them out. */
  mode: "play" | "arrange";
  search: string;
  /** Whether the cue list stands beside the keys. */
  cues: boolean;
  /** A key is being asked for: the next one that is pressed plays nothing. */
  asksForKey: boolean;
  /** What is printed on keys where the browser does not say. */
  layout: LayoutName;
}

const stored = "kinetra.keyboard";

/** How this window shows pads. */
export const useView = create<View>(() => ({
  mode: "play",
  search: "",
  cues: false,
  asksForKey: false,
  layout: remembered(),
}));

function remembered(): LayoutName {
  try {
    return (localStorage.getItem(stored) as LayoutName | null) ?? "us";
  } catch {
    return "us";
  }
}

export function chooseLayout(layout: LayoutName) {
  useView.setState({ layout });
  try {
    localStorage.setItem(stored, layout);
  } catch {
    // Then it is asked for again.
  }
}

type Keyboard = { getLayoutMap?: () => Promise<ReadonlyMap<string, string>> };

/** What is printed on this computer's keys; null: the browser does not say. */
export function useReported(): ReadonlyMap<string, string> | null {
  const [map, setMap] = useState<ReadonlyMap<string, string> | null>(null);
  useEffect(() => {
    let gone = false;
    (navigator as Navigator & { keyboard?: Keyboard }).keyboard?.getLayoutMap?.().then(
      (found) => {
        if (!gone && found.size > 0) setMap(found);
      },
      () => undefined,
    );
    return () => {
      gone = true;
    };
  }, []);
  return map;
}
