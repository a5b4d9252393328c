import { lazy } from "react";

/** Its code comes when it is opened first. */
export const Voice = lazy(() => import("./Voice").then((m) => ({ default: m.Voice })));

/** What every window says while all hear a chain without something of it; its code comes when there is something to say. */
export const OnAirBanner = lazy(() => import("./OnAirBanner").then((m) => ({ default: m.OnAirBanner })));
