import type { QueryClient } from "@tanstack/react-query";
import { toldShow } from "@/core/commands/show";
import { on, onMissed, tellServer } from "@/core/realtime/hub";
import { makePreviews } from "@/core/realtime/previews";
import type { ChainPlace } from "./changes";

/** Parameters of processors that are being turned, here or in another window. */
export const turns = makePreviews<number>();

export function turnKey(processor: string, parameter: string): string {
  return `${processor}/${parameter}`;
}

/** Lets a processor be heard with another value while it is turned; null: as it is stored again. */
export function previewProcessor(
  queries: QueryClient,
  { source = "", mix = "", loop }: ChainPlace,
  processor: string,
  parameter: string,
  value: number | null,
) {
  if (loop !== undefined) {
    tellServer("PreviewOnBench", loop, processor, parameter, value);
    return;
  }
  const show = toldShow(queries);
  if (show) tellServer("PreviewProcessor", show.id, source || null, mix || null, processor, parameter, value);
}

/** Shows what other windows turn. */
export function followTurns() {
  on("ProcessorPreviewed", (processor, parameter, value) => {
    if (value === null) turns.endByOther(turnKey(processor, parameter));
    else turns.setByOther(turnKey(processor, parameter), value);
  });
  on("ShowOpened", turns.endAll);
  onMissed(turns.endAllByOthers);
}
