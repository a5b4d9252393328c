export { PadBody } from "./PadBody";
export { onSounding, type Sounding } from "./playing";
