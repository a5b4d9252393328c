import { lazy } from "react";

export { followTurns } from "./previews";

/** Its code comes when it is opened first. */
export const ChainSection = lazy(() => import("./ChainSection").then((m) => ({ default: m.ChainSection })));
/** Its code comes when it is opened first. */
export const DuckingSection = lazy(() => import("./ChainSection").then((m) => ({ default: m.DuckingSection })));
