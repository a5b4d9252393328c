import { create } from "zustand";

/** The keys of some actions, in words for hints: known once the keys are there, which come after the first picture. */
export const useKeyWords = create<Readonly<Record<string, string>>>(() => ({}));
