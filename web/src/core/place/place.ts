import { navigate, useLocationProperty } from "wouter/use-browser-location";

/** The screens, by their address. */
const screens = {
  desk: "/",
  paths: "/paths",
  voice: "/voice",
  gear: "/gear",
  pads: "/pads",
  takes: "/takes",
  air: "/on-air",
} as const;

/** What can lie over a screen; one at a time. */
const layers = [
  "shows",
  "history",
  "keys",
  "palette",
  "hands",
  "delay",
  "cables",
  "computer",
  "findings",
  "promises",
  "cards",
  "join",
  "source",
  "sound",
  "microphone",
  "mix",
  "flashes",
] as const;

export type Screen = keyof typeof screens;
export type Layer = (typeof layers)[number];

/** What the inspector shows. */
export type Selection =
  | { kind: "source"; source: string }
  | { kind: "mix"; mix: string }
  | { kind: "send"; mix: string; source: string }
  | { kind: "pad"; pad: string }
  /** Who hears: a device, a program's input. */
  | { kind: "end"; point: string }
  /** A source's way to who hears it. */
  | { kind: "way"; source: string; point: string }
  | null;

/** Where this window is. All of it stands in the address, so that a reload, a link and the way back find it again. */
export interface Place {
  screen: Screen;
  view: "lanes" | "table";
  selection: Selection;
  /** The processor that the workshop shows large; null: the first, or none. */
  stage: string | null;
  /** The loop on the bench that the workshop shows; null: the live sound. */
  bench: string | null;
  layer: Layer | null;
}

/** The place that an address names; what it does not name, or names wrongly, is left out. */
export function placeOf(path: string, search: string): Place {
  const values = new URLSearchParams(search);
  const screen = (Object.keys(screens) as Screen[]).find((s) => screens[s] === path) ?? "desk";
  return {
    screen,
    view: values.get("view") === "table" ? "table" : "lanes",
    selection: selectionOf(values.get("at")),
    stage: /^[a-z0-9-]{1,40}$/.exec(values.get("stage") ?? "")?.[0] ?? null,
    bench: /^[a-z0-9-]{1,40}$/.exec(values.get("bench") ?? "")?.[0] ?? null,
    layer: layers.find((l) => l === values.get("open")) ?? null,
  };
}

/** The address of a place. */
export function addressOf({ screen, view, selection, stage, bench, layer }: Place): string {
  const values = new URLSearchParams();
  if (view !== "lanes") values.set("view", view);
  if (selection) values.set("at", textOf(selection));
  if (stage !== null) values.set("stage", stage);
  if (bench !== null) values.set("bench", bench);
  if (layer) values.set("open", layer);
  // Slashes may stand in a query, and read better.
  const search = values.toString().replaceAll("%2F", "/");
  return screens[screen] + (search && `?${search}`);
}

function selectionOf(text: string | null): Selection {
  const [kind, first, second, ...rest] = (text ?? "").split("/");
  if (!first) return null;
  if (kind === "end") return isPoint(first, second, rest) ? { kind, point: [first, second, ...rest].join("/") } : null;
  if (kind === "way")
    return second && isPoint(second, rest[0], rest.slice(1))
      ? { kind, source: first, point: [second, ...rest].join("/") }
      : null;
  if (rest.length > 0) return null;
  if (kind === "send") return second ? { kind, mix: first, source: second } : null;
  if (second !== undefined) return null;
  if (kind === "source") return { kind, source: first };
  if (kind === "pad") return { kind, pad: first };
  return kind === "mix" ? { kind, mix: first } : null;
}

/** Whether these are the parts of the name of a point at which somebody hears. */
function isPoint(kind: string | undefined, id: string | undefined, rest: string[]): boolean {
  if (!kind || !id || rest.includes("")) return false;
  return ["device", "app"].includes(kind)
    ? rest.length === 1
    : ["mix", "cable", "source"].includes(kind) && rest.length <= 1;
}

/** A selection in one text, as the address has it. What can be selected carries it as `data-focus`, so that it is found again. */
export function textOf(selection: NonNullable<Selection>): string {
  if (selection.kind === "send") return `send/${selection.mix}/${selection.source}`;
  if (selection.kind === "end") return `end/${selection.point}`;
  if (selection.kind === "way") return `way/${selection.source}/${selection.point}`;
  if (selection.kind === "pad") return `pad/${selection.pad}`;
  return selection.kind === "mix" ? `mix/${selection.mix}` : `source/${selection.source}`;
}

let last: { address: string; place: Place } | null = null;

/** Where this window is now. */
export function placeNow(): Place {
  const { pathname, search } = window.location;
  const address = pathname + search;
  if (last?.address !== address) last = { address, place: placeOf(pathname, search) };
  return last.place;
}

/** A part of where this window is: drawn anew only when that part becomes another. */
export function usePlace<T>(of: (place: Place) => T): T {
  // Typed for values that are compared as they are; a place is the same object as long as the address is the same.
  return useLocationProperty(() => of(placeNow()) as string) as T;
}

function go(place: Place, replace: boolean) {
  const address = addressOf(place);
  if (address !== window.location.pathname + window.location.search) navigate(address, { replace });
}

/** Goes to a screen, and leaves behind what was selected and open. */
export function goTo(screen: Screen) {
  go({ ...placeNow(), screen, selection: null, stage: null, bench: null, layer: null }, false);
}

/** Goes to something on a screen. */
export function showOn(screen: Screen, selection: NonNullable<Selection>) {
  go({ ...placeNow(), screen, selection, stage: null, bench: null, layer: null }, false);
}

/** Shows a processor of the chosen chain large. */
export function showStage(stage: string | null) {
  go({ ...placeNow(), stage }, true);
}

/** Shows a loop on the bench in the workshop; null: the live sound. */
export function showBench(bench: string | null) {
  const place = placeNow();
  go({ ...place, bench, stage: null }, place.bench !== null);
}

/** The address of a screen, for a link. */
export function linkTo(screen: Screen): string {
  return screens[screen];
}

/** Selects something on the Desk, or nothing. The way back leads to where nothing was selected, not through all that was. */
export function select(selection: Selection) {
  const place = placeNow();
  go({ ...place, selection, bench: null }, place.selection !== null);
}

/** Selects nothing any more; where the focus was in the inspector, it goes back to what that was about. */
export function closeInspector() {
  const { selection, screen } = placeNow();
  // In the workshop it is what the screen is about.
  if (!selection || screen === "voice") return;
  select(null);
  if (document.activeElement?.closest("aside"))
    document.querySelector<HTMLElement>(`[data-focus="${CSS.escape(textOf(selection))}"]`)?.focus();
}

/** Opens something over the screen. */
export function openLayer(layer: Layer) {
  go({ ...placeNow(), layer }, false);
}

/** Closes what is open over the screen, and selects what came of it. */
export function closeLayer(selection: Selection = placeNow().selection) {
  go({ ...placeNow(), layer: null, selection }, true);
}

/** Shows the Desk as lanes, or as a table. */
export function showAs(view: Place["view"]) {
  go({ ...placeNow(), view }, true);
}
