import { lazy } from "react";

/** Its code comes when it is opened first. */
export const AirScreen = lazy(() => import("./AirScreen").then((m) => ({ default: m.AirScreen })));
