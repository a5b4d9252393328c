import { Fragment, type KeyboardEvent, useMemo, useRef, useState } from "react";
import type { Show, Source } from "@/core/api/client";
import { enter } from "@/core/place/entry";
import { type Selection, select, textOf, usePlace } from "@/core/place/place";
import { FindingMark } from "@/features/findings";
import { awayWords, useGear } from "@/features/gear";
import { decimal, signed } from "@/shared/look/format";
import { colorOf, shapes } from "@/shared/look/sources";
import { follow, nameOf, ownTracks, type Place } from "./arrows";
import { type Frame, frameOf, lineOf } from "./frame";
import { useLive } from "./live";
import { belongs, keyOf, type Layout, passes, selectionOf, type Track } from "./paths";
import { Seals, useSeals } from "./Seals";

interface Props {
  map: Layout;
  show: Show;
  /** What is looked for, in small letters; empty: nothing. */
  find: string;
  room: { width: number; height: number };
}

const stepBack = 0.13;

/** The map: names to choose and tracks between them. Arrows move along the tracks. */
export function MapView({ map, show, find, room }: Props) {
  const selection = usePlace((p) => p.selection);
  const frame = useMemo(() => frameOf(map, room), [map, room]);
  const svg = useRef<SVGSVGElement>(null);
  useLive(svg, map, show);
  const gear = useGear().data;
  const sources = new Map(show.sources.map((s) => [s.id, s]));
  const source = (start: number): Source | undefined => sources.get(map.diagram.starts[start]?.source ?? "");
  const color = (start: number) => {
    const of = source(start);
    return of ? colorOf(of) : "var(--quiet)";
  };
  const away = (start: number) => {
    const of = source(start);
    return of && gear ? awayWords(gear, of.input) : null;
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
                fades={fades && !near.some((t) => t.start === i && (t.end < 0 || t.mix < 0))}
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

type StopOf = (
  place: Place,
  of: NonNullable<Selection> | null,
) => {
  ref: (element: HTMLButtonElement | null) => void;
  tabIndex: number;
  "data-focus": string | undefined;
  "aria-pressed": boolean;
  className: string;
  onFocus: () => void;
  onClick: () => void;
};

/** One Tab stop for all that can be chosen; arrows move along the tracks. */
function Stops({
  map,
  near,
  fades,
  children,
}: {
  map: Layout;
  near: Track[];
  fades: boolean;
  children: (stop: StopOf) => React.ReactNode;
}) {
  const selection = usePlace((p) => p.selection);
  const [at, setAt] = useState<Place>({ kind: "start", start: 0 });
  const elements = useRef(new Map<string, HTMLButtonElement>());
  const here = nameOf(at);
  const exists =
    at.kind === "start"
      ? at.start < map.diagram.starts.length
      : at.kind === "mix"
        ? at.mix < map.diagram.mixes.length
        : at.kind === "end"
          ? at.end < map.diagram.ends.length
          : ownTracks(map).some((t) => nameOf({ kind: "track", ...t }) === here);
  const entry = exists ? here : nameOf({ kind: "start", start: 0 });
  const move = (e: KeyboardEvent) => {
    if (e.ctrlKey || e.metaKey || e.altKey || e.shiftKey || !e.key.startsWith("Arrow")) return;
    if (!(e.target instanceof HTMLElement) || !e.target.dataset.stop) return;
    e.preventDefault();
    const next = follow(map, at, e.key);
    const element = next && elements.current.get(nameOf(next));
    if (!next || !element) return;
    setAt(next);
    element.focus();
    element.scrollIntoView({ block: "nearest", inline: "nearest" });
  };
  const stop: StopOf = (place, of) => {
    const name = nameOf(place);
    const isNear =
      !fades ||
      near.some((t) =>
        place.kind === "start"
          ? t.start === place.start
          : place.kind === "mix"
            ? t.mix === place.mix
            : place.kind === "end"
              ? t.end === place.end
              : t.start === place.start && t.mix === place.mix,
      );
    return {
      ref: (element) => {
        if (element) elements.current.set(name, element);
        else elements.current.delete(name);
      },
      tabIndex: name === entry ? 0 : -1,
      "data-focus": of ? textOf(of) : undefined,
      "aria-pressed": of !== null && selection !== null && textOf(of) === textOf(selection),
      className: isNear ? "" : "opacity-40",
      onFocus: () => setAt(place),
      onClick: () => of && enter(of),
      ...{ "data-stop": name },
    };
  };
  return (
    // biome-ignore lint/a11y/noStaticElementInteractions: it only moves the focus among the buttons within it
    <div onKeyDown={move}>{children(stop)}</div>
  );
}

interface TrunkProps {
  map: Layout;
  frame: Frame;
  start: number;
  color: string;
  sign: string;
  away: boolean;
  fades: boolean;
}

function Trunk({ map, frame, start, color, sign, away, fades }: TrunkProps) {
  const y = frame.y(map.starts[start] ?? 0);
  const isSource = map.diagram.starts[start]?.source != null;
  const to = Math.max(map.trunks[start] ?? 0, 24);
  return (
    <g opacity={fades ? stepBack : 1}>
      <path
        data-live=""
        data-start={start}
        d={`M${frame.x(0)} ${y}H${frame.x(to).toFixed(1)}`}
        stroke={color}
        strokeWidth={1.6}
        strokeDasharray={away ? "1 5" : undefined}
        strokeLinecap="round"
        fill="none"
      />
      {isSource ? (
        <path d={sign} transform={`translate(${frame.x(0)} ${y}) scale(0.72)`} fill={color} />
      ) : (
        <circle cx={frame.x(0)} cy={y} r={4} fill="var(--ground)" stroke={color} strokeWidth={1.6} />
      )}
    </g>
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

function Line({ track, d, end, frame, color, away, fades, choose }: LineProps) {
  const held = track.state === "Held";
  return (
    <g opacity={fades ? stepBack : track.state === "On" ? 1 : 0.75}>
      <path
        data-live={track.state === "On" ? "" : undefined}
        data-start={track.start}
        data-mix={track.mix}
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
      <path d={d} stroke="transparent" strokeWidth={7} fill="none" className="cursor-pointer" onClick={choose} />
    </g>
  );
}

function Ticks({
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

// Where tracks come together, and where they end.
function Columns({ map, frame }: { map: Layout; frame: Frame }) {
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

// What a mix does not hear waits at its foot.
function Docks({ map, frame, show, selection }: { map: Layout; frame: Frame; show: Show; selection: Selection }) {
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

// Two tracks of one sound that meet: a bow from the one to the other, with how far they are apart.
function Twins({ map, frame }: { map: Layout; frame: Frame }) {
  const { mixes, ends, twins } = map.diagram;
  return twins.map((t) => {
    const mix = mixes.findIndex((m) => `mix/${m.id}` === t.at);
    const end = ends.findIndex((e) => e.point === t.at);
    const y = (start: number, by: number) =>
      map.tracks
        .find((x) => x.start === start && (mix >= 0 ? x.mix === mix && x.end < 0 : x.end === end && x.mix === by))
        ?.line.at(-1)?.y;
    const [one, other] = [y(t.one, t.oneMix), y(t.other, t.otherMix)];
    if (one === undefined || other === undefined) return null;
    const x = frame.x(mix >= 0 ? map.mixX : map.endX) - 5;
    const [a, b] = [frame.y(Math.min(one, other)), frame.y(Math.max(one, other))];
    return (
      <g key={`${t.at} ${t.one} ${t.other} ${t.oneMix} ${t.otherMix}`} data-twin={t.at}>
        <path
          d={`M${x} ${a}C${x - 14} ${a} ${x - 14} ${b} ${x} ${b}`}
          stroke="var(--wrong)"
          strokeWidth={2}
          fill="none"
        />
        <circle cx={x} cy={a} r={3} fill="var(--wrong)" />
        <circle cx={x} cy={b} r={3} fill="var(--wrong)" />
        <text
          x={x - 14}
          y={(a + b) / 2 + 4}
          fontSize={11}
          fontWeight={600}
          textAnchor="end"
          fill="var(--wrong)"
          stroke="var(--ground)"
          strokeWidth={3}
          paintOrder="stroke"
        >
          twice, {decimal(t.milliseconds)} ms apart
        </text>
      </g>
    );
  });
}

// What goes round.
function Rings({ map, frame }: { map: Layout; frame: Frame }) {
  const { mixes, ends, starts, rings } = map.diagram;
  return rings.map((r, i) => {
    const mix = mixes.findIndex((m) => `mix/${m.id}` === r.at);
    const end = ends.findIndex((e) => e.point === r.at);
    const start = starts.findIndex((s) => s.point === r.at);
    const [x, y] =
      mix >= 0
        ? [map.mixX, map.mixes[mix]?.bottom]
        : end >= 0
          ? [map.endX, map.ends[end]?.bottom]
          : [20, map.starts[start]];
    if (y === undefined) return null;
    const tone = r.isHeld || r.gainDecibels >= -6 ? "var(--wrong)" : "var(--quiet)";
    return (
      <g
        // biome-ignore lint/suspicious/noArrayIndexKey: loops have no other name than where they are
        key={`${r.at} ${i}`}
        data-ring={r.at}
        transform={`translate(${frame.x(x) + 16} ${frame.y(y) + 14 + 16 * rings.slice(0, i).filter((o) => o.at === r.at).length})`}
      >
        <path
          d="M5.5-3A6.5 6.5 0 1 0 6.5 1.5M6.5-6V-2.5H3"
          stroke={tone}
          strokeWidth={1.8}
          fill="none"
          strokeLinecap="round"
        />
        <text x={12} y={4} fontSize={10.5} fill={tone}>
          {signed(r.gainDecibels)} dB round{r.isHeld ? ", held" : ""}
        </text>
      </g>
    );
  });
}

interface NamesProps {
  map: Layout;
  frame: Frame;
  show: Show;
  away: (start: number) => string | null;
  stop: StopOf;
}

/** All that can be chosen by name, and a button on each track for who moves by keys. */
function Names({ map, frame, show, away, stop }: NamesProps) {
  const { starts, mixes, ends, onwards } = map.diagram;
  const seals = useSeals(show);
  const states = { On: "", Muted: ", muted", Held: ", cut: it would close a circle" } as const;
  return (
    <>
      {starts.map((s, i) => {
        const at = stop({ kind: "start", start: i }, s.source ? { kind: "source", source: s.source } : null);
        const gone = away(i);
        return (
          <Fragment key={s.point}>
            <FindingMark
              points={[s.point]}
              name={s.name}
              className="absolute"
              style={{ left: frame.left + 9, top: frame.y(map.starts[i] ?? 0) - 22 }}
            />
            <button
              type="button"
              {...at}
              title={`${s.name}: ${gone ?? s.from}`}
              className={`absolute rounded-md pr-1 text-right leading-tight hover:bg-raised aria-pressed:bg-raised ${at.className}`}
              style={{ left: 4, width: frame.left - 18, top: frame.y(map.starts[i] ?? 0) - 15, height: 30 }}
            >
              <span className="block truncate text-[13px] font-semibold">
                {s.name}
                <span className="sr-only">, </span>
              </span>
              <span className={`block truncate text-[10.5px] ${gone ? "text-wrong" : "text-quiet"}`}>
                {gone ?? s.from}
              </span>
            </button>
          </Fragment>
        );
      })}
      {ownTracks(map).map((t) => {
        const to = t.mix >= 0 ? mixes[t.mix]?.name : ends[t.end]?.name;
        const spot = t.line.at(-1);
        const at = stop({ kind: "track", start: t.start, mix: t.mix, end: t.end }, selectionOf(map, t));
        return (
          <button
            key={keyOf(t)}
            type="button"
            {...at}
            aria-label={`${starts[t.start]?.name} to ${to}${states[t.state]}`}
            className="pointer-events-none absolute rounded-full"
            style={{ left: frame.x(map.mixX) - 30, width: 24, top: frame.y(spot?.y ?? 0) - 4, height: 8 }}
          />
        );
      })}
      {mixes.map((m, i) => {
        const at = stop({ kind: "mix", mix: i }, { kind: "mix", mix: m.id });
        const hears = map.tracks.filter((t) => t.mix === i && t.end < 0).length;
        const leads = onwards.some((o) => o.mix === i);
        return (
          <div key={m.id}>
            <button
              type="button"
              {...at}
              aria-label={`${m.name}, a mix of ${hears} ${hears === 1 ? "source" : "sources"}`}
              title={m.name}
              className={`absolute truncate rounded-md px-1 text-left text-xs font-semibold hover:bg-raised aria-pressed:bg-raised ${at.className}`}
              style={{
                left: frame.x(map.mixX) + 4,
                maxWidth: leads ? frame.x(map.endX) - frame.x(map.mixX) - 16 : frame.right,
                top: frame.y(map.mixes[i]?.top ?? 0) - 24,
                height: 18,
              }}
            >
              {m.name}
            </button>
            <FindingMark
              points={[`mix/${m.id}`]}
              name={m.name}
              className="absolute"
              style={{ left: frame.x(map.mixX) - 24, top: frame.y(map.mixes[i]?.top ?? 0) - 25 }}
            />
            {!leads && (
              <div
                className="absolute text-[11px] text-quiet"
                style={{ left: frame.x(map.mixX) + 48, top: frame.y(middle(map.mixes[i])) - 8, width: frame.right }}
              >
                goes nowhere; takes have it
                <Seals seals={seals.at([`mix/${m.id}`])} />
              </div>
            )}
          </div>
        );
      })}
      {ends.map((e, i) => {
        const at = stop({ kind: "end", end: i }, { kind: "end", point: e.point });
        const beside = mixes.filter(
          (_, m) =>
            onwards.some((o) => o.mix === m && o.end === i) &&
            Math.abs((map.mixes[m]?.top ?? 0) - (map.ends[i]?.top ?? 0)) <= 12,
        );
        return (
          <div
            key={e.point}
            className="absolute"
            style={{
              left: frame.x(map.endX) + 8,
              width: frame.width - frame.x(map.endX) - 12,
              top: frame.y(middle(map.ends[i])) - 11,
            }}
          >
            <button
              type="button"
              {...at}
              aria-label={`${e.name}${e.isOpen ? ", heard by nobody" : ""}`}
              title={e.name}
              className={`block max-w-full truncate rounded-md px-1 text-left text-[13px] font-semibold hover:bg-raised aria-pressed:bg-raised ${at.className}`}
            >
              {e.name}
            </button>
            <FindingMark points={[e.point]} name={e.name} className="absolute -top-5 left-0" />
            {e.isOpen && <p className="px-1 text-[11px] text-quiet">nobody hears it</p>}
            <Seals seals={seals.at([e.point, ...beside.map((m) => `mix/${m.id}`)])} />
          </div>
        );
      })}
      {show.sources.length === 0 && (
        <p className="absolute text-[13px] text-quiet" style={{ left: 24, top: 40 }}>
          Nothing sounds yet: add a source on the Desk, and see here where it goes.
        </p>
      )}
    </>
  );
}

function middle(extent: { top: number; bottom: number } | undefined): number {
  return extent ? (extent.top + extent.bottom) / 2 : 0;
}
