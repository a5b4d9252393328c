import type { Show } from "@/core/api/client";
import { usePlace } from "@/core/place/place";
import { TraceSection } from "@/features/findings";
import { InspectorPanel } from "@/shared/ui/InspectorPanel";
import { useMap } from "./paths";

/** How one source comes to one end. */
export function WayInspector({ show }: { show: Show }) {
  const at = usePlace((p) => p.selection);
  const map = useMap().data?.layout;
  const source = at?.kind === "way" && show.sources.find((s) => s.id === at.source);
  if (!source || at.kind !== "way" || !map) return null;
  const name = map.diagram.ends.find((e) => e.point === at.point)?.name ?? "an end that is gone";
  return (
    <InspectorPanel title={`${source.name} to ${name}`} of="Way">
      <TraceSection
        key={`${source.id} ${at.point}`}
        source={source.id}
        listeners={[{ value: at.point, words: name }]}
      />
    </InspectorPanel>
  );
}
