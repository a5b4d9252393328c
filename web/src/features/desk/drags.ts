import type { QueryClient } from "@tanstack/react-query";
import type { Gain } from "@/core/api/client";
import { toldShow } from "@/core/commands/show";
import { on, onMissed, tellServer } from "@/core/realtime/hub";
import { makePreviews } from "@/core/realtime/previews";

/** Gains of sends that are being dragged, here or in another window. */
export const drags = makePreviews<Gain>();

export function dragKey(mix: string, source: string): string {
  return `${mix}/${source}`;
}

/** Lets a send be heard at a gain while it is dragged. Lost without harm where the server does not answer. */
export function previewSend(queries: QueryClient, mix: string, source: string, gain: Gain) {
  const show = toldShow(queries);
  if (show) tellServer("PreviewSend", show.id, mix, source, gain);
}

/** Lets a send be heard as it is stored again. */
export function endPreview(mix: string, source: string) {
  tellServer("EndPreview", mix, source);
}

/** Shows what other windows drag. */
export function followDrags() {
  on("SendPreviewed", (mix, source, gain) => drags.setByOther(dragKey(mix, source), gain));
  on("PreviewEnded", (mix, source) => drags.endByOther(dragKey(mix, source)));
  on("ShowOpened", drags.endAll);
  onMissed(drags.endAllByOthers);
}
