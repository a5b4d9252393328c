import { lazy } from "react";

export { AirNow } from "./AirNow";

/** Its code comes when it is opened first. */
export const AirScreen = lazy(() => import("./AirScreen").then((m) => ({ default: m.AirScreen })));
