import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { answer, api, type PathMap } from "@/core/api/client";
import { useShow } from "@/core/commands/show";
import type { Selection } from "@/core/place/place";
import { pathsKey } from "./follow";

export type Layout = PathMap["layout"];
export type Track = Layout["tracks"][number];

/** The map of all paths of the live show; asked anew for every state of it and of the computer. */
export function useMap() {
  const show = useShow().data;
  return useQuery({
    queryKey: [...pathsKey, show?.id, show?.revision],
    queryFn: () => answer(api.GET("/api/shows/{show}/map", { params: { path: { show: show?.id ?? "" } } })),
    enabled: show !== undefined,
    placeholderData: keepPreviousData,
  });
}

/** What a track stays the same by. */
export const keyOf = (t: Track): string => `${t.start} ${t.mix} ${t.end}`;

/** What is selected where a track is chosen; null: what begins past all sources. */
export function selectionOf(map: Layout, t: Track): NonNullable<Selection> | null {
  const source = map.diagram.starts[t.start]?.source;
  const mix = map.diagram.mixes[t.mix]?.id;
  if (t.end < 0) return source && mix ? { kind: "send", mix, source } : null;
  const end = map.diagram.ends[t.end];
  if (!end) return null;
  return source ? { kind: "way", source, point: end.point } : { kind: "end", point: end.point };
}

/** Whether a track belongs to what is selected; what does not steps back. */
export function belongs(map: Layout, t: Track, selection: NonNullable<Selection>): boolean {
  const { starts, mixes, ends, onwards } = map.diagram;
  const source = starts[t.start]?.source;
  const mix = mixes[t.mix]?.id;
  switch (selection.kind) {
    case "source":
      return source === selection.source;
    case "mix":
      return mix === selection.mix;
    case "send":
      return source === selection.source && mix === selection.mix;
    case "pad":
      return false;
    default: {
      if (selection.kind === "way" && source !== selection.source) return false;
      if (t.end >= 0) return ends[t.end]?.point === selection.point;
      // To a mix: as far as that goes there, or is itself who hears.
      return (
        selection.point === `mix/${mix}` ||
        onwards.some((o) => o.mix === t.mix && ends[o.end]?.point === selection.point)
      );
    }
  }
}

/** Whether a track passes something of that name. */
export function passes(map: Layout, t: Track, name: string): boolean {
  const { starts, mixes, ends, branches, onwards } = map.diagram;
  const start = starts[t.start];
  const cables =
    t.end < 0
      ? []
      : t.mix < 0
        ? branches.filter((b) => b.start === t.start && b.end === t.end).flatMap((b) => b.cables)
        : onwards.filter((o) => o.mix === t.mix && o.end === t.end).flatMap((o) => o.cables);
  const all = [
    start?.name,
    start?.from,
    mixes[t.mix]?.name,
    ends[t.end]?.name,
    ...cables,
    ...(start?.ticks ?? []).map((x) => x.name),
  ];
  return all.some((text) => text?.toLowerCase().includes(name));
}
