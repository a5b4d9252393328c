/** What other features that come when they are opened first build upon; the index has only what is there from the beginning. */
export { doesInShow, useBenchUndo } from "./benchHistory";
export { ChainLatency } from "./ChainLatency";
export { typeOf, useCatalogue } from "./catalogue";
export { type ChainPlace, chainAt, useChainStep } from "./changes";
export { KeyChoice } from "./KeyChoice";
export { acceptLoop, followLoops, loopsKey, useLoops } from "./loops";
export { presetUrl, useOwnPresets, usePresetChange } from "./ownPresets";
export { ParameterRows } from "./ParameterRows";
export { useTurning, useValues } from "./turning";
