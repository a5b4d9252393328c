import { create } from "zustand";

/** What the inspector shows. */
export type Selection =
  | { kind: "source"; source: string }
  | { kind: "mix"; mix: string }
  | { kind: "send"; mix: string; source: string }
  | null;

interface DeskState {
  selection: Selection;
  view: "lanes" | "table";
  adding: File | "ask" | null;
  addingMicrophone: boolean;
  addingMix: boolean;
  cables: boolean;
}

export const useDesk = create<DeskState>(() => ({
  selection: null,
  view: "lanes",
  adding: null,
  addingMicrophone: false,
  addingMix: false,
  cables: false,
}));

export function select(selection: Selection) {
  useDesk.setState({ selection });
}
