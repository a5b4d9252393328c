import { lazy } from "react";

/** Its code comes when it is opened first. */
export const Pads = lazy(() => import("./Pads").then((m) => ({ default: m.Pads })));
export const PadInspector = lazy(() => import("./PadInspector").then((m) => ({ default: m.PadInspector })));
export const PadKeys = lazy(() => import("./PadKeys").then((m) => ({ default: m.PadKeys })));
