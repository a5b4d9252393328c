import { lazy } from "react";

export { Desk } from "./Desk";
export { followDrags } from "./drags";

/** Its code comes when it is opened first. */
export const AddMix = lazy(() => import("./AddMix").then((m) => ({ default: m.AddMix })));
/** Its code comes when it is opened first. */
export const AddSound = lazy(() => import("./AddSound").then((m) => ({ default: m.AddSound })));
/** Its code comes when it is opened first. */
export const SoundForm = lazy(() => import("./AddSound").then((m) => ({ default: m.SoundForm })));
/** Its code comes when it is opened first. */
export const SendInspector = lazy(() => import("./SendInspector").then((m) => ({ default: m.SendInspector })));
/** Its code comes when it is opened first. */
export const SourceInspector = lazy(() => import("./SourceInspector").then((m) => ({ default: m.SourceInspector })));
/** Its code comes when it is opened first. */
export const MixInspector = lazy(() => import("./MixInspector").then((m) => ({ default: m.MixInspector })));
