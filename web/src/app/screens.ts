import { create } from "zustand";

export type Screen = "desk" | "takes";

function fromAddress(): Screen {
  return window.location.pathname === "/takes" ? "takes" : "desk";
}

/** Which screen is shown; the address says it too. */
export const useScreen = create<{ screen: Screen }>(() => ({ screen: fromAddress() }));

export function goTo(screen: Screen) {
  window.history.pushState(null, "", screen === "desk" ? "/" : `/${screen}`);
  useScreen.setState({ screen });
}

window.addEventListener("popstate", () => useScreen.setState({ screen: fromAddress() }));
