import { lazy } from "react";

export type { OtherSort } from "./AddSource";
export { AwayLine } from "./AwayLine";
export { awayWords } from "./away";
export { followGear, useGear } from "./known";
export { WishState } from "./WishState";
export { useListeners, useWays } from "./ways";

/** Its code comes when it is opened first. */
export const SpeakNow = lazy(() => import("./SpeakNow").then((m) => ({ default: m.SpeakNow })));

/** Its code comes when it is opened first. */
export const JoinDevices = lazy(() => import("./JoinDevices").then((m) => ({ default: m.JoinDevices })));

/** Its code comes when it is opened first. */
export const GearHistory = lazy(() => import("./GearHistory").then((m) => ({ default: m.GearHistory })));

/** Its code comes when it is opened first. */
export const AddSource = lazy(() => import("./AddSource").then((m) => ({ default: m.AddSource })));

/** Its code comes when it is opened first. */
export const Gear = lazy(() => import("./Gear").then((m) => ({ default: m.Gear })));
