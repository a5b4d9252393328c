import type { Show } from "@/core/api/client";
import { closeLayer, goTo, openLayer } from "@/core/place/place";
import { Button } from "@/shared/ui/Button";
import { selectionOf } from "./findings";

/** Leads to what something that is told concerns. */
export function Places({ points, show }: { points: readonly string[]; show: Show }) {
  const places = points.flatMap((point) => {
    const selection = selectionOf(point);
    const name =
      selection?.kind === "mix"
        ? show.mixes.find((m) => m.id === selection.mix)?.name
        : selection?.kind === "source" && show.sources.find((s) => s.id === selection.source)?.name;
    if (point.startsWith("cable/")) return [{ name: "Cables", go: () => openLayer("cables") }];
    return name ? [{ name, go: () => closeLayer(selection) }] : [];
  });
  const shown = places.filter((p, i) => places.findIndex((q) => q.name === p.name) === i).slice(0, 2);
  if (shown.length === 0) shown.push({ name: "Gear", go: () => goTo("gear") });
  return shown.map(({ name, go }) => (
    <Button key={name} tone="quiet" wraps onClick={go}>
      Show {name}
    </Button>
  ));
}
