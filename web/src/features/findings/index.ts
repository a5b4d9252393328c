import { lazy } from "react";

export { FindingMark } from "./FindingMark";
export { FindingNotes } from "./FindingNotes";
export { FindingsState } from "./FindingsState";
export { findingsKey, followFindings, useFindingsAt, useTrace } from "./findings";
export { NewFindings } from "./NewFindings";
export { Places } from "./Places";

/** Loaded when it is opened first. */
export const FindingsDialog = lazy(() => import("./FindingsDialog").then((m) => ({ default: m.FindingsDialog })));

/** Loaded when a change is proposed first. */
export const Effect = lazy(() => import("./Effect").then((m) => ({ default: m.Effect })));

/** Loaded when somebody asks for it first. */
export const LossNote = lazy(() => import("./LossNote").then((m) => ({ default: m.LossNote })));

/** Loaded when something is selected first. */
export const TraceSection = lazy(() => import("./TraceSection").then((m) => ({ default: m.TraceSection })));
