import { lazy } from "react";

export { followGear } from "./gear";
export { WishState } from "./WishState";

/** Its code comes when it is opened first. */
export const Gear = lazy(() => import("./Gear").then((m) => ({ default: m.Gear })));
