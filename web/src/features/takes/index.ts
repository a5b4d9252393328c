import { lazy } from "react";

export { followTakes, useRecord, useTakes } from "./takes";

/** Its code comes when it is opened first. */
export const Takes = lazy(() => import("./Takes").then((m) => ({ default: m.Takes })));
