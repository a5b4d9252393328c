import { type ComponentType, Suspense } from "react";
import type { Show } from "@/core/api/client";
import { useShow } from "@/core/commands/show";
import { type Selection, usePlace } from "@/core/place/place";
import { MixInspector, SendInspector, SourceInspector } from "@/features/desk";
import { PadInspector } from "@/features/pads";
import { EndInspector, WayInspector } from "@/features/paths";
import { Boundary } from "@/shared/ui/Boundary";

const inspectors: Record<NonNullable<Selection>["kind"], ComponentType<{ show: Show }>> = {
  source: SourceInspector,
  mix: MixInspector,
  send: SendInspector,
  pad: PadInspector,
  end: EndInspector,
  way: WayInspector,
};

/** What stands beside the screen about what is selected, by its kind. Its code comes when something of the kind is selected first. */
export function Inspector() {
  // In the workshop, what is selected is what the screen is about.
  const kind = usePlace((p) => (p.screen === "voice" ? null : (p.selection?.kind ?? null)));
  const show = useShow().data;
  if (!kind || !show) return null;
  const Open = inspectors[kind];
  return (
    <Boundary what="The inspector">
      <Suspense>
        <Open show={show} />
      </Suspense>
    </Boundary>
  );
}
