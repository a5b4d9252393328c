// What comes no sooner than the workshop that uses it.
export { WithPicture } from "./WithPicture";
