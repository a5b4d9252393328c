import { CircleStop, GitBranchPlus, X } from "lucide-react";
import { Suspense, useState } from "react";
import { type Selection, usePlace } from "@/core/place/place";
import { Effect, useTrace } from "@/features/findings";
import { Button } from "@/shared/ui/Button";
import { Menu } from "@/shared/ui/Menu";
import { Failed, Loading } from "@/shared/ui/State";
import type { Layout } from "./paths";

interface Wanted {
  what: "send" | "end";
  source: string;
  listener: string;
}

/** What can be changed at what is selected: sent somewhere, heard from somewhere, ended. Each is told in all that it would bring before it is done. */
export function RouteBar({ map }: { map: Layout }) {
  const selection = usePlace((p) => p.selection);
  const [wanted, setWanted] = useState<(Wanted & { at: Selection }) | null>(null);
  if (!selection)
    return <p className="text-xs text-quiet max-md:hidden">Choose a name or a track to change where it goes.</p>;
  const want = (w: Wanted) => setWanted({ ...w, at: selection });
  // What was asked of something else is not asked any longer.
  const asked = wanted?.at === selection ? wanted : null;
  return (
    <div className="relative flex min-w-0 flex-wrap items-center gap-1.5">
      <Changes selection={selection} map={map} want={want} />
      {asked && (
        <section
          aria-label="What would be changed"
          className="absolute top-full right-0 z-20 mt-1 w-[min(26rem,calc(calc(100*var(--vw))-2rem))] rounded-md border border-line bg-surface p-3 text-[13px] shadow-xl"
          onKeyDown={(e) => {
            if (e.key !== "Escape") return;
            e.preventDefault();
            e.stopPropagation();
            setWanted(null);
          }}
        >
          <Button
            tone="quiet"
            square
            className="float-right -mt-1 -mr-1 h-7"
            aria-label="Leave it as it is"
            icon={<X size={14} />}
            onClick={() => setWanted(null)}
          />
          <Preview key={`${asked.what} ${asked.source} ${asked.listener}`} wanted={asked} />
        </section>
      )}
    </div>
  );
}

interface ChangesProps {
  selection: NonNullable<Selection>;
  map: Layout;
  want: (wanted: Wanted) => void;
}

function Changes({ selection, map, want }: ChangesProps) {
  const { starts, mixes, ends, branches, onwards } = map.diagram;
  const into = (source: string) =>
    mixes
      .filter((m) => m.waits.some((w) => starts[w]?.source === source))
      .map((m) => ({ words: m.name, onSelect: () => want({ what: "send", source, listener: `mix/${m.id}` }) }));
  switch (selection.kind) {
    case "source":
      return <Pick words="Send it into" none="Every mix hears it already" icon="send" items={into(selection.source)} />;
    case "mix": {
      const waits = mixes.find((m) => m.id === selection.mix)?.waits ?? [];
      return (
        <Pick
          words="Hear it from"
          none="It hears every source already"
          icon="send"
          items={waits.flatMap((w) => {
            const start = starts[w];
            if (!start?.source) return [];
            const wanted = { what: "send", source: start.source, listener: `mix/${selection.mix}` } as const;
            return [{ words: start.name, onSelect: () => want(wanted) }];
          })}
        />
      );
    }
    case "end": {
      const end = ends.findIndex((e) => e.point === selection.point);
      const here = onwards.filter((o) => o.end === end).map((o) => o.mix);
      const hears = (start: number) =>
        branches.some(
          (b) => b.start === start && b.state === "On" && (b.end === end || (b.mix >= 0 && here.includes(b.mix))),
        );
      const sources = starts.flatMap((s, i) =>
        s.source ? [{ source: s.source, words: s.name, hears: hears(i) }] : [],
      );
      const item = (what: Wanted["what"]) => (s: (typeof sources)[number]) => ({
        words: s.words,
        onSelect: () => want({ what, source: s.source, listener: selection.point }),
      });
      return (
        <>
          <Pick
            words="Hear it from"
            none="It hears every source already"
            icon="send"
            items={sources.filter((s) => !s.hears).map(item("send"))}
          />
          <Pick
            words="End here"
            none="Nothing comes here"
            icon="end"
            items={sources.filter((s) => s.hears).map(item("end"))}
          />
        </>
      );
    }
    case "pad":
      return null;
    default: {
      const listener = selection.kind === "send" ? `mix/${selection.mix}` : selection.point;
      const waits =
        selection.kind === "send" &&
        mixes.some((m) => m.id === selection.mix && m.waits.some((w) => starts[w]?.source === selection.source));
      return (
        <>
          <Pick words="Send it into" none="Every mix hears it already" icon="send" items={into(selection.source)} />
          {!waits && (
            <Button
              className="h-7"
              icon={<CircleStop size={14} />}
              onClick={() => want({ what: "end", source: selection.source, listener })}
            >
              End it here …
            </Button>
          )}
        </>
      );
    }
  }
}

function Pick({
  words,
  none,
  icon,
  items,
}: {
  words: string;
  none: string;
  icon: "send" | "end";
  items: { words: string; onSelect: () => void }[];
}) {
  const Icon = icon === "send" ? GitBranchPlus : CircleStop;
  const button = (
    <Button
      className="h-7"
      icon={<Icon size={14} />}
      disabled={items.length === 0}
      title={items.length === 0 ? none : undefined}
    >
      {words} …
    </Button>
  );
  return items.length === 0 ? button : <Menu trigger={button} title={words} items={items} />;
}

function Preview({ wanted }: { wanted: Wanted }) {
  const { what, source, listener } = wanted;
  const trace = useTrace(source, listener);
  const [chosen, choose] = useState<string | null>(null);
  if (trace.isError) return <Failed error={trace.error} retry={() => void trace.refetch()} />;
  if (!trace.data) return <Loading what="what it would change" />;
  const { sentence, open, ways } = trace.data;
  const labels =
    what === "send" ? (open ? [open] : []) : [...new Set(ways.flatMap((w) => w.hops.flatMap((h) => h.cut ?? [])))];
  const label = labels.length === 1 ? labels[0] : labels.find((l) => l === chosen);
  return (
    <>
      <p>{sentence}</p>
      {labels.length === 0 && ways.length > 0 === (what === "end") && (
        <p className="mt-1 text-quiet">
          {what === "send"
            ? "No change of the show alone would let it be heard there."
            : "Nothing on this way can be ended here."}
        </p>
      )}
      <div className="mt-1.5 flex flex-wrap gap-1.5">
        {labels.map((l) => (
          <Button key={l} wraps aria-expanded={l === label} onClick={() => choose(l === chosen ? null : l)}>
            {l}
          </Button>
        ))}
      </div>
      {label && (
        <Suspense fallback={<Loading what="what it would change" />}>
          <Effect key={label} proposal={{ of: "way", source, listener, label }} />
        </Suspense>
      )}
    </>
  );
}
