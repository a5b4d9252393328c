export { keepListening, listen, toggleListen, useListening } from "./listen";
