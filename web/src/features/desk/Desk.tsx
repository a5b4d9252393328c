import { Cable, CircleQuestionMark, ListMusic, Mic, Plus, Rows3, Table2 } from "lucide-react";
import { type DragEvent, lazy, Suspense, useMemo, useState } from "react";
import type { Show } from "@/core/api/client";
import { sendOf, useShow } from "@/core/commands/show";
import { openLayer, showAs, usePlace } from "@/core/place/place";
import { LoopBanner } from "@/features/cables";
import { Button } from "@/shared/ui/Button";
import { Choice } from "@/shared/ui/Choice";
import { Failed, Loading, State } from "@/shared/ui/State";
import { useRoom } from "@/shared/ui/useRoom";
import { AxisScale } from "./AxisScale";
import { addDropped } from "./dropped";
import { useFolds } from "./folds";
import { Lane } from "./Lane";
import { layLanes } from "./laneLayout";
import { SourceColumn } from "./SourceColumn";

/** Where head, dock and axis of a lane stand beside each other, the lanes are at least this wide, px. */
const wide = 480;

/** Height of the numbers above the lanes, px. */
const scaleHeight = 28;

const views = [
  { value: "lanes", words: "Lanes", icon: <Rows3 size={13} /> },
  { value: "table", words: "Table", icon: <Table2 size={13} /> },
] as const;

// Their code comes when they are shown first.
const LaneSigns = lazy(() => import("./LaneSigns").then((m) => ({ default: m.LaneSigns })));
const SendTable = lazy(() => import("./SendTable").then((m) => ({ default: m.SendTable })));

/** The screen that people live in: the sources, and what each listener gets of them. */
export function Desk() {
  const show = useShow();
  if (show.data) return <OpenDesk show={show.data} />;
  return show.error ? <Failed error={show.error} retry={() => void show.refetch()} /> : <Loading what="the show" />;
}

function OpenDesk({ show }: { show: Show }) {
  const view = usePlace((p) => p.view);
  const [dropping, setDropping] = useState(false);

  const drop = (e: DragEvent) => {
    e.preventDefault();
    setDropping(false);
    const file = e.dataTransfer.files[0];
    if (file) addDropped(file);
  };

  return (
    // biome-ignore lint/a11y/noStaticElementInteractions: files can be dropped; the same is a button in the source column
    <div
      className={`relative flex h-full min-h-0 max-md:flex-col ${dropping ? "outline-2 -outline-offset-4 outline-focus outline-dashed" : ""}`}
      onDragOver={(e) => {
        if (!e.dataTransfer.types.includes("Files")) return;
        e.preventDefault();
        setDropping(true);
      }}
      onDragLeave={(e) => e.currentTarget === e.target && setDropping(false)}
      onDrop={drop}
    >
      <SourceColumn show={show} />
      <div className="flex min-h-0 min-w-0 grow flex-col">
        <header className="flex min-h-9 shrink-0 items-center justify-between border-line border-b px-3 max-md:px-1">
          <h1 className="min-w-0 truncate text-xs font-semibold text-quiet max-md:sr-only">
            Desk <span className="font-normal max-md:hidden">· where each source sounds, for each listener</span>
          </h1>
          <div className="flex shrink-0 items-center gap-1 max-md:shrink max-md:flex-wrap">
            <HowToRead />
            <Button tone="quiet" className="h-7" icon={<Plus size={14} />} onClick={() => openLayer("mix")}>
              Add a mix
            </Button>
            <Button tone="quiet" className="h-7" icon={<Cable size={14} />} onClick={() => openLayer("cables")}>
              Cables
            </Button>
            <Choice label="Show as" value={view} options={views} onChange={showAs} />
          </div>
        </header>
        <LoopBanner show={show} />
        <div className="min-h-0 grow">
          {show.sources.length === 0 ? <Nothing /> : show.mixes.length === 0 ? <NoMix /> : <Mixes show={show} />}
        </div>
      </div>
    </div>
  );
}

function Mixes({ show }: { show: Show }) {
  const view = usePlace((p) => p.view);
  const room = useRoom();
  const chosen = useFolds((s) => s.chosen);
  const layout = useMemo(
    () =>
      layLanes(
        room.height - scaleHeight,
        show.mixes.map((m) => ({ id: m.id, heard: show.sources.filter((s) => sendOf(m, s.id).heard).length })),
        show.sources.length,
        chosen,
        room.width >= wide,
      ),
    [room.height, room.width, show.mixes, show.sources, chosen],
  );
  const held = useMemo(() => new Set(show.loops.flatMap((l) => l.held.flatMap((h) => h.source ?? []))), [show.loops]);
  if (view === "table")
    return (
      <Suspense>
        <SendTable show={show} />
      </Suspense>
    );
  return (
    <section ref={room.of} aria-label="Lanes" className="h-full overflow-auto">
      <AxisScale />
      {show.mixes.map((mix, i) => (
        <Lane key={mix.id} mix={mix} number={i + 1} sources={show.sources} held={held} layout={layout} />
      ))}
    </section>
  );
}

/** What the signs of a lane mean, for whoever sees one for the first time. */
function HowToRead() {
  const [open, setOpen] = useState<boolean | null>(null);
  return (
    <>
      <Button tone="quiet" className="h-7" icon={<CircleQuestionMark size={15} />} onClick={() => setOpen(true)}>
        <span className="max-md:sr-only">How to read this</span>
      </Button>
      {open !== null && (
        <Suspense>
          <LaneSigns open={open} onOpenChange={setOpen} />
        </Suspense>
      )}
    </>
  );
}

function Nothing() {
  return (
    <State
      title="Nothing sounds yet"
      words="Add this computer’s microphone or a sound file, and see where it stands for each listener. A file can also be dropped anywhere here."
    >
      <div className="flex justify-center gap-2">
        <Button tone="lamp" icon={<Mic size={15} />} onClick={() => openLayer("microphone")}>
          Add a microphone
        </Button>
        <Button icon={<ListMusic size={15} />} onClick={() => openLayer("sound")}>
          Add a sound
        </Button>
      </div>
    </State>
  );
}

function NoMix() {
  return (
    <State
      title="Nobody listens yet"
      words="A mix is one blend, made for one listener: your own ears, your viewers, a caller."
    >
      <Button tone="lamp" icon={<Plus size={15} />} onClick={() => openLayer("mix")}>
        Add a mix
      </Button>
    </State>
  );
}
