import { lazy } from "react";

/** Loaded when it is opened first. */
export const Bench = lazy(() => import("./Bench").then((m) => ({ default: m.Bench })));
/** Loaded when it is opened first. */
export const GuidedCleanUp = lazy(() => import("./GuidedCleanUp").then((m) => ({ default: m.GuidedCleanUp })));
