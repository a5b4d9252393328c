import { lazy } from "react";

export { followCards } from "./cards";
export { NewCards } from "./NewCards";

/** Loaded when it is opened first. */
export const CardsDialog = lazy(() => import("./CardsDialog").then((m) => ({ default: m.CardsDialog })));
