import { create } from "zustand";

export type ThemeChoice = "system" | "dark" | "light";

const key = "kinetra-theme";
const system = window.matchMedia("(prefers-color-scheme: dark)");

function stored(): ThemeChoice {
  const value = localStorage.getItem(key);
  return value === "dark" || value === "light" ? value : "system";
}

interface ThemeState {
  choice: ThemeChoice;
  choose: (choice: ThemeChoice) => void;
}

/** Dark or light: the system's, until the person chooses. */
export const useTheme = create<ThemeState>((set) => ({
  choice: stored(),
  choose: (choice) => {
    if (choice === "system") localStorage.removeItem(key);
    else localStorage.setItem(key, choice);
    set({ choice });
  },
}));

function apply() {
  const { choice } = useTheme.getState();
  const dark = choice === "dark" || (choice === "system" && system.matches);
  document.documentElement.dataset.theme = dark ? "dark" : "light";
  for (const listener of listeners) listener();
}

const listeners = new Set<() => void>();

/** Calls back whenever colours may have changed; for what is drawn rather than styled. */
export function onThemeChange(listener: () => void): () => void {
  listeners.add(listener);
  return () => listeners.delete(listener);
}

export function startTheme() {
  system.addEventListener("change", apply);
  useTheme.subscribe(apply);
  apply();
}
