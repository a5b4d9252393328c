import { lazy } from "react";

export { followShows } from "./shows";

/** Its code comes when it is opened first. */
export const ShowsDialog = lazy(() => import("./ShowsDialog").then((m) => ({ default: m.ShowsDialog })));
