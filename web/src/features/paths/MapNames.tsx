import { Fragment } from "react";
import type { Show } from "@/core/api/client";
import type { Selection } from "@/core/place/place";
import { FindingMark } from "@/features/findings";
import { decimal } from "@/shared/look/format";
import { ownTracks } from "./arrows";
import type { Frame } from "./frame";
import type { StopOf } from "./MapStops";
import { keyOf, type Layout, selectionOf } from "./paths";
import { Seals, useSeals } from "./Seals";

interface NamesProps {
  map: Layout;
  frame: Frame;
  show: Show;
  away: (start: number) => string | null;
  stop: StopOf;
}

/** All that can be chosen by name, and a button on each track for who moves by keys. */
export function Names({ map, frame, show, away, stop }: NamesProps) {
  const { starts, mixes, ends, onwards } = map.diagram;
  const seals = useSeals(show);
  const states = { On: "", Muted: ", muted", Held: ", cut: it would close a circle" } as const;
  return (
    <>
      {starts.map((s, i) => {
        // What comes from nowhere in the show leads to who hears it.
        const track = s.source ? undefined : map.tracks.find((t) => t.start === i);
        const of: Selection = s.source ? { kind: "source", source: s.source } : track ? selectionOf(map, track) : null;
        const at = stop({ kind: "start", start: i }, of);
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
              <span data-word="" className="block truncate text-[13px] font-semibold">
                {s.name}
                <span className="sr-only">, </span>
              </span>
              <span data-word="" className={`block truncate text-[10.5px] ${gone ? "text-wrong" : "text-quiet"}`}>
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
              data-word=""
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
              data-word=""
              className={`block max-w-full truncate rounded-md px-1 text-left text-[13px] font-semibold hover:bg-raised aria-pressed:bg-raised ${at.className}`}
            >
              {e.name}
            </button>
            <FindingMark points={[e.point]} name={e.name} className="absolute -top-5 left-0" />
            {e.isOpen && <p className="px-1 text-[11px] text-quiet">nobody hears it</p>}
            {e.latestMilliseconds !== null && e.latestMilliseconds >= 0.05 && (
              <p
                data-word=""
                className={`px-1 text-[11px] text-quiet ${at.className}`}
                title="How late the latest of all its sounds comes"
              >
                up to {decimal(e.latestMilliseconds)} ms late
              </p>
            )}
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
