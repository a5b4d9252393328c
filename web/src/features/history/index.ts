import { lazy } from "react";

export { ConflictArea } from "./ConflictArea";
export { HistoryButtons } from "./HistoryButtons";
export { followHistory } from "./history";

/** Its code comes when it is opened first. */
export const HistoryDialog = lazy(() => import("./HistoryDialog").then((m) => ({ default: m.HistoryDialog })));
