import type { Layout } from "./paths";

/** What can have the focus on the map: a start, a track to a mix or past all, a mix, an end. */
export type Place =
  | { kind: "start"; start: number }
  | { kind: "track"; start: number; mix: number; end: number }
  | { kind: "mix"; mix: number }
  | { kind: "end"; end: number };

export function nameOf(p: Place): string {
  if (p.kind === "track") return `track ${p.start} ${p.mix} ${p.end}`;
  return p.kind === "start" ? `start ${p.start}` : p.kind === "mix" ? `mix ${p.mix}` : `end ${p.end}`;
}

/** The tracks that have a place of their own: to mixes, and past them. */
export function ownTracks(map: Layout) {
  return map.tracks.filter((t) => t.end < 0 || t.mix < 0);
}

/** All that can have the focus, in the order in which it is read. */
export function placesOf(map: Layout): Place[] {
  const { starts, mixes, ends } = map.diagram;
  return [
    ...starts.map((_, start): Place => ({ kind: "start", start })),
    ...ownTracks(map).map(({ start, mix, end }): Place => ({ kind: "track", start, mix, end })),
    ...mixes.map((_, mix): Place => ({ kind: "mix", mix })),
    ...ends.map((_, end): Place => ({ kind: "end", end })),
  ];
}

/** Whether a track leads through a place. */
export function isAlong(place: Place, t: { start: number; mix: number; end: number }): boolean {
  if (place.kind === "start") return t.start === place.start;
  if (place.kind === "mix") return t.mix === place.mix;
  if (place.kind === "end") return t.end === place.end;
  return t.start === place.start && t.mix === place.mix;
}

/** Where an arrow leads: right and left along the tracks, up and down to what lies beside; null: nowhere. */
export function follow(map: Layout, at: Place, key: string): Place | null {
  const tracks = ownTracks(map);
  const track = (t: { start: number; mix: number; end: number } | undefined): Place | null =>
    t ? { kind: "track", start: t.start, mix: t.mix, end: t.end } : null;
  const down = key === "ArrowDown" ? 1 : key === "ArrowUp" ? -1 : 0;
  switch (at.kind) {
    case "start": {
      if (key === "ArrowRight") return track(tracks.find((t) => t.start === at.start));
      const start = at.start + down;
      return down && map.diagram.starts[start] ? { kind: "start", start } : null;
    }
    case "track": {
      if (key === "ArrowLeft") return { kind: "start", start: at.start };
      if (key === "ArrowRight") return at.mix < 0 ? { kind: "end", end: at.end } : { kind: "mix", mix: at.mix };
      const own = tracks.filter((t) => t.start === at.start);
      const here = own.findIndex((t) => t.mix === at.mix && t.end === at.end);
      return down ? track(own[here + down]) : null;
    }
    case "mix": {
      if (key === "ArrowLeft") return track(tracks.find((t) => t.mix === at.mix));
      if (key === "ArrowRight") {
        const on = map.diagram.onwards.find((o) => o.mix === at.mix);
        return on ? { kind: "end", end: on.end } : null;
      }
      const mix = at.mix + down;
      return down && map.diagram.mixes[mix] ? { kind: "mix", mix } : null;
    }
    case "end": {
      if (key === "ArrowLeft") {
        const from = map.diagram.onwards.find((o) => o.end === at.end);
        return from ? { kind: "mix", mix: from.mix } : track(tracks.find((t) => t.end === at.end));
      }
      // As they stand, not as they are counted.
      const order = map.ends.map((e, end) => ({ end, top: e.top })).sort((a, b) => a.top - b.top);
      const next = order[order.findIndex((e) => e.end === at.end) + down];
      return down && next ? { kind: "end", end: next.end } : null;
    }
  }
}
