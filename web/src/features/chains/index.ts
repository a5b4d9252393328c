import { lazy } from "react";

export { typeOf, useCatalogue } from "./catalogue";
export { type ChainPlace, chainAt, useChainStep } from "./changes";
export { KeyChoice } from "./KeyChoice";
export { ParameterRow } from "./ParameterRow";
export { followTurns } from "./previews";
export { useTurning, useValues } from "./turning";

/** Its code comes when it is opened first. */
export const ChainSection = lazy(() => import("./ChainSection").then((m) => ({ default: m.ChainSection })));
/** Its code comes when it is opened first. */
export const DuckingSection = lazy(() => import("./ChainSection").then((m) => ({ default: m.DuckingSection })));
