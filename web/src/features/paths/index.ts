import { lazy } from "react";

export { followPaths } from "./follow";

/** Its code comes when it is opened first. */
export const Paths = lazy(() => import("./Paths").then((m) => ({ default: m.Paths })));

/** Its code comes when an end is selected first. */
export const EndInspector = lazy(() => import("./EndInspector").then((m) => ({ default: m.EndInspector })));

/** Its code comes when a way is selected first. */
export const WayInspector = lazy(() => import("./WayInspector").then((m) => ({ default: m.WayInspector })));
