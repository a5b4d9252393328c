import { useEffect, useRef, useState } from "react";
import type { Mix, Source } from "../api/client";
import { onPaint } from "../live/meters";
import { onThemeChange } from "../look/theme";
import { sendOf } from "../show/show";
import { lanePadding } from "./axis";
import { Dock } from "./Dock";
import { LaneHead } from "./LaneHead";
import { drawLane, readColors } from "./laneCanvas";
import { Marker } from "./Marker";

interface Props {
  mix: Mix;
  number: number;
  sources: readonly Source[];
  /** The ids of those that a loop holds muted. */
  held: ReadonlySet<string>;
  rowHeight: number;
}

/** One listener's mix: who it is for, what he does not hear, and where everything else stands. */
export function Lane({ mix, number, sources, held, rowHeight }: Props) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const stage = useRef<HTMLDivElement>(null);
  const dock = useRef<HTMLDivElement>(null);
  const [overDock, setOverDock] = useState(false);

  useEffect(() => {
    let colors = readColors();
    const stopTheme = onThemeChange(() => {
      colors = readColors();
    });
    const stopPaint = onPaint(() => {
      if (canvas.current) drawLane(canvas.current, colors, mix, sources, rowHeight);
    });
    return () => {
      stopTheme();
      stopPaint();
    };
  }, [mix, sources, rowHeight]);

  const isOverDock = (x: number) => {
    const box = dock.current?.getBoundingClientRect();
    return box !== undefined && x < box.right;
  };

  return (
    <section
      aria-label={`What ${mix.name} gets`}
      data-mix={mix.id}
      className="grid border-line border-b max-md:grid-cols-1 md:grid-cols-[10.5rem_7.5rem_1fr]"
    >
      <LaneHead mix={mix} number={number} />
      <div ref={dock} className="min-w-0">
        <Dock mix={mix} sources={sources} lit={overDock} stage={stage} />
      </div>
      <div className="relative overflow-hidden px-4">
        <div
          ref={stage}
          className="relative h-full"
          style={{ minHeight: rowHeight * sources.length + lanePadding.top + lanePadding.bottom }}
        >
          <canvas ref={canvas} className="absolute inset-0 h-full w-full" />
          {sources.map(
            (source, row) =>
              sendOf(mix, source.id).heard && (
                <Marker
                  key={source.id}
                  mix={mix}
                  source={source}
                  row={row}
                  height={rowHeight}
                  held={held.has(source.id)}
                  onOverDock={setOverDock}
                  isOverDock={isOverDock}
                />
              ),
          )}
        </div>
      </div>
    </section>
  );
}
