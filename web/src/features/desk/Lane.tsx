import { useEffect, useMemo, useRef, useState } from "react";
import type { Mix, Source } from "@/core/api/client";
import { sendOf } from "@/core/commands/show";
import { onPaint } from "@/core/meters/meters";
import { useRoving } from "@/shared/focus/roving";
import { onThemeChange } from "@/shared/look/theme";
import { Dock } from "./Dock";
import { LaneHead } from "./LaneHead";
import { drawLane, readColors } from "./laneCanvas";
import { foldedHeight, type LaneLayout, laneHeight } from "./laneLayout";
import { Marker } from "./Marker";
import { foldedRows, rowsOf } from "./rows";

interface Props {
  mix: Mix;
  number: number;
  sources: readonly Source[];
  /** The ids of those that a loop holds muted. */
  held: ReadonlySet<string>;
  layout: LaneLayout;
}

/** One listener's mix: who it is for, what he does not hear, and where everything else stands. */
export function Lane({ mix, number, sources, held, layout }: Props) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const stage = useRef<HTMLDivElement>(null);
  const dock = useRef<HTMLDivElement>(null);
  const [overDock, setOverDock] = useState(false);
  const roving = useRoving();
  const folded = layout.folded.has(mix.id);
  const { rowHeight, aligned } = layout;
  const rows = useMemo(() => {
    const heard = (s: Source) => sendOf(mix, s.id).heard;
    if (folded) return foldedRows(sources.filter(heard));
    if (aligned) return rowsOf(sources, rowHeight).filter((r) => heard(r.source));
    return rowsOf(sources.filter(heard), rowHeight);
  }, [mix, sources, folded, aligned, rowHeight]);
  const height = folded ? foldedHeight : laneHeight(aligned ? sources.length : rows.length, rowHeight);

  useEffect(() => {
    let colors = readColors();
    const stopTheme = onThemeChange(() => {
      colors = readColors();
    });
    const stopPaint = onPaint(() => {
      if (canvas.current) drawLane(canvas.current, colors, mix, rows);
    });
    return () => {
      stopTheme();
      stopPaint();
    };
  }, [mix, rows]);

  const isOverDock = (x: number) => {
    const box = dock.current?.getBoundingClientRect();
    return box !== undefined && x < box.right;
  };

  return (
    <section
      {...roving}
      aria-label={`What ${mix.name} gets`}
      data-mix={mix.id}
      className="grid border-line border-b max-md:grid-cols-1 md:grid-cols-[10.5rem_7.5rem_1fr]"
    >
      <LaneHead mix={mix} number={number} folded={folded} />
      <div ref={dock} className="min-w-0">
        <Dock mix={mix} sources={sources} lit={overDock} stage={stage} room={height} folded={folded} />
      </div>
      <div className="relative overflow-hidden px-4">
        <div ref={stage} className="relative h-full" style={{ minHeight: height - 1 }}>
          <canvas ref={canvas} className="absolute inset-0 h-full w-full" />
          {rows.map((row) => (
            <Marker
              key={row.source.id}
              mix={mix}
              row={row}
              held={held.has(row.source.id)}
              onOverDock={setOverDock}
              isOverDock={isOverDock}
            />
          ))}
        </div>
      </div>
    </section>
  );
}
