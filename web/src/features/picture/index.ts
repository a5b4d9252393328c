import { lazy } from "react";

/** Its code comes when it is opened first. */
export const Flashes = lazy(() => import("./Flashes").then((m) => ({ default: m.Flashes })));
