import { lazy } from "react";

/** Its code comes when it is opened first. */
export const DelayDialog = lazy(() => import("./DelayDialog").then((m) => ({ default: m.DelayDialog })));
