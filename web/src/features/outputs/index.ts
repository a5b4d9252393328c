export { outputId } from "./outputId";
export { followPlayers, playHere, systemOutput, tendOutputs, useOutputWords, watchOutputs } from "./outputs";
