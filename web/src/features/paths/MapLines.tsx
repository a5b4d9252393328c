import type { Show } from "@/core/api/client";
import { type Selection, select } from "@/core/place/place";
import { colorOf, shapes } from "@/shared/look/sources";
import type { Frame } from "./frame";
import { keyOf, type Layout, type Track } from "./paths";

/** How much is left of what does not belong to what is selected. */
const stepBack = 0.13;

interface TrunkProps {
  map: Layout;
  frame: Frame;
  start: number;
  color: string;
  sign: string;
  away: boolean;
  /** How far it belongs to what is selected, px of the map; 0: not at all. */
  near: number;
}

/** What a source's tracks have in common, with its sign. */
export function Trunk({ map, frame, start, color, sign, away, near }: TrunkProps) {
  const y = frame.y(map.starts[start] ?? 0);
  const isSource = map.diagram.starts[start]?.source != null;
  const whole = map.trunks[start] ?? 0;
  const line = (to: number, opacity: number) => (
    <path
      data-live={start}
      d={`M${frame.x(0)} ${y}H${frame.x(Math.max(to, 24)).toFixed(1)}`}
      opacity={opacity}
      stroke={color}
      strokeWidth={1.6}
      strokeDasharray={away ? "1 5" : undefined}
      strokeLinecap="round"
      fill="none"
    />
  );
  return (
    <>
      {near < whole && line(whole, stepBack)}
      {(near > 0 || whole === 0) && line(near, 1)}
      <g opacity={near > 0 || whole === 0 ? 1 : stepBack}>
        {isSource ? (
          <path d={sign} transform={`translate(${frame.x(0)} ${y}) scale(0.72)`} fill={color} />
        ) : (
          <circle cx={frame.x(0)} cy={y} r={4} fill="var(--ground)" stroke={color} strokeWidth={1.6} />
        )}
      </g>
    </>
  );
}

interface LineProps {
  track: Track;
  d: string;
  /** Where it comes to its column. */
  end: { x: number; y: number } | undefined;
  frame: Frame;
  color: string;
  away: boolean;
  fades: boolean;
  choose: () => void;
}

/** One track, after what it has in common with others of its source. */
export function Line({ track, d, end, frame, color, away, fades, choose }: LineProps) {
  const held = track.state === "Held";
  return (
    <g opacity={fades ? stepBack : track.state === "On" ? 1 : 0.75}>
      <path
        data-live={track.state === "On" ? keyOf(track) : undefined}
        data-track={keyOf(track)}
        data-state={track.state}
        d={d}
        stroke={color}
        strokeWidth={1.6}
        strokeDasharray={track.state !== "On" ? "6 5" : away ? "1 5" : undefined}
        strokeLinejoin="round"
        strokeLinecap={track.state === "On" ? "round" : "butt"}
        fill="none"
      />
      {held && end && (
        <path
          d={`M-4-4L4 4M4-4L-4 4`}
          transform={`translate(${frame.x(end.x) - 10} ${frame.y(end.y)})`}
          stroke="var(--wrong)"
          strokeWidth={2}
        />
      )}
      {/* biome-ignore lint/a11y/noStaticElementInteractions: for the pointer; each track has a button for keys */}
      <path
        d={d}
        data-hit=""
        stroke="transparent"
        strokeWidth={7}
        fill="none"
        className="cursor-pointer"
        onClick={choose}
      />
    </g>
  );
}

/** What tracks pass. */
export function Ticks({
  map,
  frame,
  selection,
  fades,
  near,
}: {
  map: Layout;
  frame: Frame;
  selection: Selection;
  fades: boolean;
  near: Track[];
}) {
  const { starts, ends, mixes } = map.diagram;
  return map.ticks.map((t) => {
    const [x, top] = [frame.x(t.at.x), frame.y(t.at.y)];
    const bottom = frame.y(t.at.y + t.height);
    // Above a mix stands its name.
    const below = mixes.some((m) => `mix/${m.id}` === t.of);
    const isNear = near.some(
      (n) =>
        starts[n.start]?.point === t.of ||
        (n.end >= 0 && ends[n.end]?.point === t.of) ||
        `mix/${mixes[n.mix]?.id}` === t.of,
    );
    return (
      <g key={`${t.of} ${t.at.x} ${t.at.y}`} opacity={fades && !isNear && selection ? stepBack : 1}>
        <path d={`M${x} ${top - 5}V${bottom + 5}`} stroke="var(--ink)" strokeWidth={2} strokeLinecap="round" />
        <text x={x + (below ? -4 : 5)} y={below ? bottom + 16 : top - 5} fontSize={10.5} fill="var(--quiet)">
          {t.tick.name}
          {t.tick.what && ` ${t.tick.what}`}
        </text>
      </g>
    );
  });
}

/** Where tracks come together, and where they end. */
export function Columns({ map, frame }: { map: Layout; frame: Frame }) {
  const column = (x: number, e: { top: number; bottom: number }, key: string, isOpen = false) => (
    <path
      key={key}
      d={`M${frame.x(x)} ${frame.y(e.top) - 5}V${frame.y(e.bottom) + 5}`}
      stroke="var(--ink)"
      strokeWidth={4}
      strokeLinecap="round"
      strokeDasharray={isOpen ? "1 6" : undefined}
    />
  );
  return (
    <>
      {map.mixes.map((e, i) => column(map.mixX, e, `m${map.diagram.mixes[i]?.id}`))}
      {map.ends.map((e, i) => column(map.endX, e, `e${map.diagram.ends[i]?.point}`, map.diagram.ends[i]?.isOpen))}
    </>
  );
}

/** What a mix does not hear waits at its foot. */
export function Docks({
  map,
  frame,
  show,
  selection,
}: {
  map: Layout;
  frame: Frame;
  show: Show;
  selection: Selection;
}) {
  return map.diagram.mixes.map((mix, m) =>
    mix.waits.map((start, i) => {
      const id = map.diagram.starts[start]?.source;
      const source = show.sources.find((s) => s.id === id);
      if (!source) return null;
      const chosen = selection?.kind === "source" && selection.source === id;
      return (
        // biome-ignore lint/a11y/noStaticElementInteractions: for the pointer; the bar above has the same for keys
        <path
          key={`${mix.id} ${source.id}`}
          data-waits={`${mix.id} ${source.id}`}
          d={shapes[source.look.shape]}
          transform={`translate(${frame.x(map.mixX) - 12 - 12 * i} ${frame.y(map.mixes[m]?.bottom ?? 0) + 12}) scale(${chosen ? 0.55 : 0.42})`}
          fill={chosen ? colorOf(source) : "none"}
          stroke={colorOf(source)}
          strokeWidth={2.5}
          className="cursor-pointer"
          onClick={() => select({ kind: "send", mix: mix.id, source: source.id })}
        >
          <title>{`${mix.name} does not hear ${source.name}: it waits in the dock`}</title>
        </path>
      );
    }),
  );
}
