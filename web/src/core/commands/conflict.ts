import { create } from "zustand";
import type { HistoryLine } from "@/core/api/client";

/** Two people have set one value: this window's person chooses. */
export interface Conflict {
  what: string;
  /** As it is now, by the other. */
  value: string;
  mine: string;
  step: HistoryLine | null;
  keepMine: () => void;
}

export const useConflicts = create<{ conflicts: Conflict[] }>(() => ({ conflicts: [] }));

export function askWhich(conflict: Conflict) {
  useConflicts.setState(({ conflicts }) => ({
    conflicts: [...conflicts.filter((c) => c.what !== conflict.what), conflict],
  }));
}

export function settled(conflict: Conflict) {
  useConflicts.setState(({ conflicts }) => ({ conflicts: conflicts.filter((c) => c !== conflict) }));
}
