export { Addresses } from "./Addresses";
