import { type KeyboardEvent, type ReactNode, useRef, useState } from "react";
import { enter } from "@/core/place/entry";
import { type Selection, textOf, usePlace } from "@/core/place/place";
import { follow, nameOf, ownTracks, type Place } from "./arrows";
import type { Layout, Track } from "./paths";

/** What makes a button at a place one of the map's, for what it selects; null: nothing. */
export type StopOf = (
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
export function Stops({
  map,
  near,
  fades,
  children,
}: {
  map: Layout;
  near: Track[];
  fades: boolean;
  children: (stop: StopOf) => ReactNode;
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
  const { starts, mixes } = map.diagram;
  const first: Place =
    starts.length > 0
      ? { kind: "start", start: 0 }
      : mixes.length > 0
        ? { kind: "mix", mix: 0 }
        : { kind: "end", end: 0 };
  const entry = exists ? here : nameOf(first);
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
