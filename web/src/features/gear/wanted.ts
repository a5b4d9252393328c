import { create } from "zustand";
import type { Show } from "@/core/api/client";

const key = "kinetra.practice";

/** Whether this browser shows the practice computer where the show uses nothing of it. */
export const useWanted = create<{ wanted: boolean; want: (wanted: boolean) => void }>((set) => ({
  wanted: window.localStorage.getItem(key) === "shown",
  want: (wanted) => {
    window.localStorage.setItem(key, wanted ? "shown" : "");
    set({ wanted });
  },
}));

/** Whether a show takes anything from the practice computer, gives anything to it, or wants anything of it. */
export function usesPractice(show: Show): boolean {
  return (
    show.sources.some((s) => ["device", "app", "everythingElse"].includes(s.input.type ?? "")) ||
    show.mixes.some((m) => (m.destinations ?? []).some((d) => d.end.type === "device")) ||
    show.wishes.roles.length + show.wishes.ports.length > 0
  );
}
