import { create } from "zustand";

interface ConnectionState {
  /** Whether the server's events reach this window. */
  hub: "connecting" | "open" | "lost";
  /** Whether meters come in. */
  meters: boolean;
}

/** How this window stands with the server. */
export const useConnection = create<ConnectionState>(() => ({ hub: "connecting", meters: false }));
