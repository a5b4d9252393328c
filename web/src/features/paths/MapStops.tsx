import { type KeyboardEvent, type MouseEvent, type ReactNode, useRef, useState } from "react";
import { enter } from "@/core/place/entry";
import { type Selection, select, textOf, usePlace } from "@/core/place/place";
import { follow, isAlong, nameOf, type Place, placesOf } from "./arrows";
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
  onClick: (e: MouseEvent) => void;
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
  const all = placesOf(map);
  // What had it may be gone meanwhile.
  const entry = nameOf(all.find((p) => nameOf(p) === nameOf(at)) ?? all[0] ?? at);
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
    const isSelected = of !== null && selection !== null && textOf(of) === textOf(selection);
    const isNear = !fades || near.some((t) => isAlong(place, t));
    return {
      ref: (element) => {
        if (element) elements.current.set(name, element);
        else elements.current.delete(name);
      },
      tabIndex: name === entry ? 0 : -1,
      "data-focus": of ? textOf(of) : undefined,
      "aria-pressed": isSelected,
      className: isNear ? "" : "opacity-40",
      onFocus: () => setAt(place),
      // By keys into its numbers; by pointer they come beside it, and go again.
      onClick: (e) => {
        if (of) e.detail === 0 ? enter(of) : select(isSelected ? null : of);
      },
      ...{ "data-stop": name },
    };
  };
  return (
    // biome-ignore lint/a11y/noStaticElementInteractions: it only moves the focus among the buttons within it
    <div onKeyDown={move}>{children(stop)}</div>
  );
}
