import { Copy, Download, Map as MapIcon, Search, TextQuote } from "lucide-react";
import { useState } from "react";
import type { PathMap, Show } from "@/core/api/client";
import { useShow } from "@/core/commands/show";
import { tell } from "@/core/notices/notices";
import { enter } from "@/core/place/entry";
import { Button } from "@/shared/ui/Button";
import { Choice } from "@/shared/ui/Choice";
import { Failed, faultOf, Loading } from "@/shared/ui/State";
import { useRoom } from "@/shared/ui/useRoom";
import { exportSvg } from "./exportSvg";
import { MapSigns } from "./MapSigns";
import { MapView } from "./MapView";
import { passes, selectionOf, useMap } from "./paths";
import { RouteBar } from "./RouteBar";

const views = [
  { value: "map", words: "Map", icon: <MapIcon size={13} /> },
  { value: "words", words: "Words", icon: <TextQuote size={13} /> },
] as const;

/** Where every sound goes, drawn by itself; the same in words. */
export function Paths() {
  const map = useMap();
  const show = useShow();
  const fault = faultOf(map);
  if (fault) return <Failed error={fault} retry={() => void map.refetch()} />;
  if (!map.data || !show.data) return <Loading what="the map" />;
  return <Shown map={map.data} show={show.data} />;
}

function Shown({ map: { layout, outline }, show }: { map: PathMap; show: Show }) {
  const [view, setView] = useState<"map" | "words">("map");
  const [text, setText] = useState("");
  const find = text.trim().toLowerCase();
  const found = find === "" ? [] : layout.tracks.filter((t) => (t.end < 0 || t.mix < 0) && passes(layout, t, find));
  const { of, ...room } = useRoom();
  return (
    <div className="flex h-full min-h-0 flex-col">
      <header className="flex min-h-11 shrink-0 flex-wrap items-center gap-x-3 gap-y-1 border-line border-b px-3 py-1">
        <h1 className="text-xs font-semibold text-quiet">
          Paths <span className="font-normal max-lg:hidden">· where every sound goes</span>
        </h1>
        <label className="flex h-7 items-center gap-1.5 rounded-md border border-line bg-ground px-2 text-[13px] focus-within:border-strong">
          <Search size={13} className="text-quiet" aria-hidden="true" />
          <input
            type="search"
            value={text}
            onChange={(e) => setText(e.target.value)}
            onKeyDown={(e) => {
              const first = e.key === "Enter" && found[0] && selectionOf(layout, found[0]);
              if (first) enter(first);
            }}
            placeholder="Find a name"
            aria-label="Find a name"
            className="w-28 bg-transparent outline-none placeholder:text-quiet"
          />
        </label>
        <p role="status" className="text-xs text-quiet">
          {find !== "" &&
            (found.length === 0 ? "No track passes it" : `${found.length} ${found.length === 1 ? "track" : "tracks"}`)}
        </p>
        <div className="flex grow justify-end">{view === "map" && <RouteBar map={layout} />}</div>
        <MapSigns />
        <Choice label="Show as" value={view} options={views} onChange={setView} />
        <Button
          tone="quiet"
          square
          className="h-7"
          aria-label="Save the map as SVG"
          title="Save the map as SVG"
          icon={<Download size={15} />}
          disabled={view !== "map"}
          onClick={() => exportSvg(show.name)}
        />
      </header>
      <div ref={of} className="min-h-0 grow overflow-auto">
        {view === "words" ? (
          <Words outline={outline} show={show} />
        ) : (
          room.width > 0 && <MapView map={layout} show={show} find={find} room={room} />
        )}
      </div>
    </div>
  );
}

function Words({ outline, show }: { outline: PathMap["outline"]; show: Show }) {
  const copy = async () => {
    const text = outline.map((s) => `${s.title}\n${s.lines.map((l) => `  ${l}`).join("\n")}`).join("\n\n");
    try {
      await navigator.clipboard.writeText(`${show.name}: where every sound goes\n\n${text}\n`);
      tell("done", "Copied as text.");
    } catch {
      tell("wrong", "This browser does not let the page copy.", "Allowed: select it with the pointer.");
    }
  };
  return (
    <div className="px-5 py-4 text-[13px]">
      <Button icon={<Copy size={14} />} onClick={() => void copy()}>
        Copy as text
      </Button>
      <div className="mt-3 grid gap-x-10 gap-y-4 lg:grid-cols-2">
        {outline.map((s) => (
          <section key={s.title} aria-label={s.title}>
            <h2 className="font-semibold">{s.title}</h2>
            <ul className="mt-0.5 list-disc pl-5">
              {s.lines.map((line) => (
                <li key={line}>{line}</li>
              ))}
            </ul>
          </section>
        ))}
      </div>
    </div>
  );
}
