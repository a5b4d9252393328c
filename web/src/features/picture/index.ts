import { lazy } from "react";

/** Each comes when it is opened first. */
export const Flashes = lazy(() => import("./Flashes").then((m) => ({ default: m.Flashes })));
export { WithPicture } from "./WithPicture";
