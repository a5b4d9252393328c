import { useMemo, useRef } from "react";
import type { Show, Source } from "@/core/api/client";
import { select, usePlace } from "@/core/place/place";
import { awayWords, useGear } from "@/features/gear";
import { microphoneOf, microphoneWords, useMicrophones } from "@/features/microphones";
import { colorOf, shapes } from "@/shared/look/sources";
import { frameOf, lineOf } from "./frame";
import { useLive } from "./live";
import { Columns, Docks, Line, Ticks, Trunk } from "./MapLines";
import { Rings, Twins } from "./MapMarks";
import { Names } from "./MapNames";
import { Stops } from "./MapStops";
import { belongs, keyOf, type Layout, passes, selectionOf, type Track } from "./paths";

interface Props {
  map: Layout;
  show: Show;
  /** What is looked for, in small letters; empty: nothing. */
  find: string;
  room: { width: number; height: number };
}

/** The map: names to choose and tracks between them. Arrows move along the tracks. */
export function MapView({ map, show, find, room }: Props) {
  const selection = usePlace((p) => p.selection);
  const frame = useMemo(() => frameOf(map, room), [map, room]);
  const svg = useRef<SVGSVGElement>(null);
  useLive(svg, map, show);
  const gear = useGear().data;
  const microphones = useMicrophones().data;
  const sources = new Map(show.sources.map((s) => [s.id, s]));
  const source = (start: number): Source | undefined => sources.get(map.diagram.starts[start]?.source ?? "");
  const color = (start: number) => {
    const of = source(start);
    return of ? colorOf(of) : "var(--quiet)";
  };
  const away = (start: number) => {
    const of = source(start);
    if (!of) return null;
    const microphone = microphoneOf(microphones, of);
    return (gear && awayWords(gear, of.input)) ?? (microphone ? microphoneWords(microphone) : null);
  };
  const isNear = (t: Track) => (find ? passes(map, t, find) : selection ? belongs(map, t, selection) : true);
  const near = map.tracks.filter(isNear);
  const fades = find !== "" || selection !== null;
  return (
    <Stops map={map} near={near} fades={fades}>
      {(stop) => (
        <div className="relative" style={{ width: frame.width, height: frame.height }}>
          <svg
            ref={svg}
            data-map=""
            width={frame.width}
            height={frame.height}
            className="absolute inset-0"
            aria-hidden="true"
          >
            <title>Paths</title>
            {map.diagram.starts.map((s, i) => (
              <Trunk
                key={s.point}
                map={map}
                frame={frame}
                start={i}
                color={color(i)}
                away={away(i) !== null}
                near={fades ? reached(near, i) : (map.trunks[i] ?? 0)}
                sign={shapes[source(i)?.look.shape ?? 0] ?? ""}
              />
            ))}
            {map.tracks.map((t) => (
              <Line
                key={keyOf(t)}
                track={t}
                d={lineOf(frame, t.line)}
                end={t.line.at(t.end < 0 ? 1 : -1)}
                frame={frame}
                color={color(t.start)}
                away={away(t.start) !== null}
                fades={fades && !isNear(t)}
                choose={() => select(selectionOf(map, t))}
              />
            ))}
            <Ticks map={map} frame={frame} selection={selection} fades={fades} near={near} />
            <Columns map={map} frame={frame} />
            <Docks map={map} frame={frame} show={show} selection={selection} />
            <Twins map={map} frame={frame} />
            <Rings map={map} frame={frame} />
          </svg>
          <Names map={map} frame={frame} show={show} away={away} stop={stop} />
        </div>
      )}
    </Stops>
  );
}

// How far a start's own stretch belongs to some of its tracks: to where the last of them leaves it.
function reached(near: readonly Track[], start: number): number {
  const own = near.filter((t) => t.start === start && (t.end < 0 || t.mix < 0));
  return Math.max(0, ...own.map((t) => t.line[0]?.x ?? 0));
}
