/** What other features that come when they are opened first build upon; the index has only what is there from the beginning. */
export { typeOf, useCatalogue } from "./catalogue";
export { type ChainPlace, chainAt, useChainStep } from "./changes";
export { KeyChoice } from "./KeyChoice";
export { ParameterRow } from "./ParameterRow";
export { useTurning, useValues } from "./turning";
