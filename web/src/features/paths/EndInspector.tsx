import { ChevronRight } from "lucide-react";
import type { Show } from "@/core/api/client";
import { enter } from "@/core/place/entry";
import { goTo, usePlace } from "@/core/place/place";
import { SourceSign } from "@/shared/look/sources";
import { Button } from "@/shared/ui/Button";
import { InspectorPanel } from "@/shared/ui/InspectorPanel";
import { useMap } from "./paths";

/** Who hears at one end, and what: each leads to its trace. */
export function EndInspector({ show }: { show: Show }) {
  const at = usePlace((p) => p.selection);
  const map = useMap().data?.layout;
  if (at?.kind !== "end" || !map) return null;
  const { ends, onwards, branches, starts, mixes } = map.diagram;
  const index = ends.findIndex((e) => e.point === at.point);
  const end = ends[index];
  if (!end)
    return (
      <InspectorPanel title="Not there now" of="End">
        <p className="text-[13px]">What was selected hears nothing any longer.</p>
      </InspectorPanel>
    );
  const from = onwards.filter((o) => o.end === index);
  const heard = starts.flatMap((s, i) => {
    const ways = branches.filter((b) => b.start === i && (b.end === index || from.some((o) => o.mix === b.mix)));
    const by = ways.map((w) => (w.mix < 0 ? "past all mixes" : `by ${mixes[w.mix]?.name}`));
    return ways.length > 0 ? [{ start: s, by, flows: ways.some((w) => w.state === "On") }] : [];
  });
  return (
    <InspectorPanel title={end.name} of={end.isOpen ? "A cable that nobody hears" : "Hears"}>
      <ul className="text-[13px]">
        {heard.map(({ start, by, flows }) => {
          const source = show.sources.find((s) => s.id === start.source);
          const words = (
            <>
              {source ? <SourceSign source={source} size={12} /> : <span className="w-3" />}
              <span className={`min-w-0 grow truncate ${flows ? "" : "line-through decoration-quiet"}`}>
                {start.name}
              </span>
              <span className="shrink-0 text-xs text-quiet">{by.join(", ")}</span>
            </>
          );
          return (
            <li key={start.point}>
              {source ? (
                <button
                  type="button"
                  aria-label={`How ${start.name} gets here, ${by.join(" and ")}`}
                  onClick={() => enter({ kind: "way", source: source.id, point: at.point })}
                  className="flex w-full items-center gap-1.5 rounded py-1 text-left hover:bg-raised"
                >
                  {words}
                  <ChevronRight size={14} className="shrink-0 text-quiet" aria-hidden="true" />
                </button>
              ) : (
                <p className="flex items-center gap-1.5 py-1">{words}</p>
              )}
            </li>
          );
        })}
      </ul>
      {heard.length === 0 && <p className="text-[13px]">Nothing comes here.</p>}
      <Button className="self-start" onClick={() => goTo("gear")}>
        Show it in Gear
      </Button>
    </InspectorPanel>
  );
}
