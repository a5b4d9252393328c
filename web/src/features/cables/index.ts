import { lazy } from "react";

export { followCables, useAddFeed, useChangeFeed, useRemoveFeed } from "./cables";
export { LoopBanner } from "./LoopBanner";

/** Its code comes when it is opened first. */
export const CablesDialog = lazy(() => import("./CablesDialog").then((m) => ({ default: m.CablesDialog })));
