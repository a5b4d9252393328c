/** What the bench builds upon: a chain as the workshop shows it. */

export { ChainTrack } from "./ChainTrack";
export { Chosen } from "./Chosen";
export { Drawing, type Ink } from "./Drawing";
export { PresetMenu } from "./PresetMenu";
