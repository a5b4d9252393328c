import { lazy } from "react";

/** Loaded when it is opened first. */
export const Bench = lazy(() => import("./Bench").then((m) => ({ default: m.Bench })));
