import { type ComponentType, lazy, Suspense } from "react";
import type { Show } from "@/core/api/client";
import { useShow } from "@/core/commands/show";
import { type Layer, usePlace } from "@/core/place/place";
import { CablesDialog } from "@/features/cables";
import { CardsDialog } from "@/features/cards";
import { DelayDialog } from "@/features/delay";
import { AddMix, AddSound } from "@/features/desk";
import { FindingsDialog } from "@/features/findings";
import { GearHistory, JoinDevices } from "@/features/gear";
import { HandsDialog, KeysDialog, Palette } from "@/features/hands";
import { HistoryDialog } from "@/features/history";
import { AddMicrophone } from "@/features/microphones";
import { Flashes } from "@/features/picture";
import { PromisesDialog } from "@/features/promises";
import { ShowsDialog } from "@/features/shows";
import { Boundary } from "@/shared/ui/Boundary";

const AddAnySource = lazy(() => import("./AddAnySource").then((m) => ({ default: m.AddAnySource })));

const layers: Record<Layer, ComponentType<{ show: Show }>> = {
  shows: ShowsDialog,
  history: HistoryDialog,
  keys: KeysDialog,
  palette: Palette,
  hands: HandsDialog,
  delay: DelayDialog,
  cables: CablesDialog,
  computer: GearHistory,
  findings: FindingsDialog,
  promises: PromisesDialog,
  cards: CardsDialog,
  join: JoinDevices,
  source: AddAnySource,
  sound: AddSound,
  microphone: AddMicrophone,
  mix: AddMix,
  flashes: Flashes,
};

/** What lies over the screen, as the address says. Its code comes when it is opened first. */
export function Layers() {
  const layer = usePlace((p) => p.layer);
  const show = useShow().data;
  if (!layer || !show) return null;
  const Open = layers[layer];
  return (
    <Boundary key={layer} what="This window">
      <Suspense>
        <Open show={show} />
      </Suspense>
    </Boundary>
  );
}
