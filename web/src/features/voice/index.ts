import { lazy } from "react";

/** Its code comes when it is opened first. */
export const Voice = lazy(() => import("./Voice").then((m) => ({ default: m.Voice })));
