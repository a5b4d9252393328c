import { lazy } from "react";

export { NewBreaks } from "./NewBreaks";
export { PromisesState } from "./PromisesState";
export { followPromises, useBrokenPlaces, usePromises } from "./promises";

/** Loaded when it is opened first. */
export const PromisesDialog = lazy(() => import("./PromisesDialog").then((m) => ({ default: m.PromisesDialog })));
