import { lazy } from "react";

export { MicrophoneLine } from "./MicrophoneLine";
export { tendMicrophones, watchInputs } from "./microphones";
export { followMicrophones, microphoneOf, useMicrophones } from "./server";
export { microphoneWords } from "./trouble";

/** Its code comes when it is opened first. */
export const MicrophoneFields = lazy(() => import("./MicrophoneFields").then((m) => ({ default: m.MicrophoneFields })));

/** Its code comes when it is opened first. */
export const MicrophoneForm = lazy(() => import("./AddMicrophone").then((m) => ({ default: m.MicrophoneForm })));

/** Its code comes when it is opened first. */
export const ShareSoundForm = lazy(() => import("./ShareSound").then((m) => ({ default: m.ShareSoundForm })));

/** Its code comes when it is opened first. */
export const AddMicrophone = lazy(() => import("./AddMicrophone").then((m) => ({ default: m.AddMicrophone })));
