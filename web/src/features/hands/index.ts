import { lazy } from "react";

export { keep as keepAhead, typeAhead } from "./ahead";
export { useControllers } from "./controllers";
export { toggleSmallWindow, useSmallWindow } from "./small";

/** Their code comes when they are opened first. */
export const KeysDialog = lazy(() => import("./KeysDialog").then((m) => ({ default: m.KeysDialog })));
export const Controllers = lazy(() => import("./Controllers").then((m) => ({ default: m.Controllers })));
export const SmallWindow = lazy(() => import("./SmallWindow").then((m) => ({ default: m.SmallWindow })));
export const Palette = lazy(() => import("./Palette").then((m) => ({ default: m.Palette })));
export const HandsDialog = lazy(() => import("./HandsDialog").then((m) => ({ default: m.HandsDialog })));
export const HoldsState = lazy(() => import("./HoldsState").then((m) => ({ default: m.HoldsState })));
