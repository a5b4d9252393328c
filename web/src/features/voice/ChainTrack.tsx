import { GripVertical, Plus, Power, TriangleAlert } from "lucide-react";
import { Fragment, type KeyboardEvent, type PointerEvent, useEffect, useRef, useState } from "react";
import type { OrderNote, Processor, ProcessorType, Show } from "@/core/api/client";
import { showStage } from "@/core/place/place";
import { type ChainPlace, typeOf, useChainStep, useTurning } from "@/features/chains/parts";
import { stop, useRoving } from "@/shared/focus/roving";
import { Button } from "@/shared/ui/Button";
import { Menu } from "@/shared/ui/Menu";
import { LevelGap, LevelLine } from "./LevelGap";
import { Miniature } from "./Miniature";
import { dropIndex, pointBefore, usualIndex } from "./stages";

interface Props {
  show: Show;
  place: ChainPlace;
  chain: Processor[];
  types: ProcessorType[];
  notes: OrderNote[];
  chosen: string | null;
  color: string;
}

/** The way of a sound through its chain, from left to right: how loud it is between any two, and what each does now. */
export function ChainTrack({ place, chain, types, notes, chosen, color }: Props) {
  const step = useChainStep(place);
  const roving = useRoving();
  const list = useRef<HTMLOListElement | null>(null);
  const [drag, setDrag] = useState<{ id: string; to: number } | null>(null);
  const nameOf = (processor: Processor | undefined) => (processor ? typeOf(types, processor.type)?.name : undefined);

  // Where quick hands have put it already, while the answer is on its way.
  const going = useRef<{ id: string; index: number; open: number } | null>(null);
  const move = (id: string, index: number) => {
    const from = going.current?.id === id ? going.current.index : chain.findIndex((p) => p.id === id);
    if (index === from || index < 0 || index >= chain.length) return;
    const now = { id, index, open: (going.current?.id === id ? going.current.open : 0) + 1 };
    going.current = now;
    step.mutate(
      { kind: "move", processor: id, index },
      {
        onSettled: () => {
          if (going.current?.id === id && --going.current.open === 0) going.current = null;
        },
      },
    );
  };
  const moveBy = (id: string, by: number) =>
    move(id, (going.current?.id === id ? going.current.index : chain.findIndex((p) => p.id === id)) + by);
  // However long the key is held: once.
  const leaving = useRef(new Set<string>());
  const remove = (id: string) => {
    if (leaving.current.has(id)) return;
    leaving.current.add(id);
    step.mutate({ kind: "remove", processor: id }, { onSettled: () => leaving.current.delete(id) });
  };
  const over = (id: string, x: number) => {
    const cards = [...(list.current?.querySelectorAll<HTMLElement>("[data-station]") ?? [])];
    const middles = cards.map((c) => {
      const box = c.getBoundingClientRect();
      return box.left + box.width / 2;
    });
    return dropIndex(
      middles,
      chain.findIndex((p) => p.id === id),
      x,
    );
  };
  const from = drag ? chain.findIndex((p) => p.id === drag.id) : -1;
  const mark = drag && drag.to !== from ? (drag.to > from ? drag.to + 1 : drag.to) : -1;

  return (
    <section aria-label="The chain" className="flex shrink-0 items-start border-line border-b pr-3">
      <ol
        {...roving}
        ref={(element) => {
          list.current = element;
          roving.ref(element);
        }}
        data-row=""
        className="flex min-w-0 items-start overflow-x-auto pt-2 pb-3 pl-3"
      >
        <li className="flex w-16 shrink-0 flex-col items-end pt-1.5 text-right text-xs text-quiet">comes in</li>
        {chain.map((processor, index) => (
          <Fragment key={processor.id}>
            <li className="relative flex">
              {mark === index && <DropMark />}
              <LevelGap
                point={pointBefore(place, chain, index)}
                words={
                  index === 0 ? "Comes in" : `Between ${nameOf(chain[index - 1]) ?? ""} and ${nameOf(processor) ?? ""}`
                }
                color={color}
              />
            </li>
            <Station
              place={place}
              processor={processor}
              type={typeOf(types, processor.type)}
              note={notes.find((n) => n.processor === processor.id)}
              index={index}
              count={chain.length}
              chosen={processor.id === chosen}
              dragged={drag?.id === processor.id}
              color={color}
              onMove={(by) => moveBy(processor.id, by)}
              onDrag={(x) => setDrag({ id: processor.id, to: over(processor.id, x) })}
              onDrop={(done) => {
                if (done && drag) move(drag.id, drag.to);
                setDrag(null);
              }}
              onRemove={() => remove(processor.id)}
            />
          </Fragment>
        ))}
        <li className="relative flex">
          {mark === chain.length && <DropMark />}
          <LevelGap point={pointBefore(place, chain, chain.length)} words="Leaves the chain" color={color} />
          <span className="pt-1.5 pr-3 pl-1 text-xs whitespace-nowrap text-quiet">goes out</span>
        </li>
      </ol>
      <div className="shrink-0 pt-2">
        <Menu
          trigger={
            <Button className="h-8" icon={<Plus size={14} />} disabled={step.isPending}>
              Add
            </Button>
          }
          title="Each goes where it usually stands; it can be moved"
          items={types.map((t) => ({
            words: t.name,
            hint: `${t.purpose} ${t.usually}`,
            onSelect: () =>
              step.mutate(
                { kind: "add", type: t.key, index: usualIndex(chain, types, t.key) },
                {
                  onSuccess: (now) => {
                    const known = new Set(chain.map((p) => p.id));
                    const made = now.find((p) => !known.has(p.id) && p.type === t.key);
                    if (made) showStage(made.id);
                  },
                },
              ),
          }))}
        />
      </div>
    </section>
  );
}

function DropMark() {
  return <span aria-hidden="true" className="absolute inset-y-0 left-1/2 z-10 w-1 -translate-x-1/2 rounded bg-lamp" />;
}

interface StationProps {
  place: ChainPlace;
  processor: Processor;
  type: ProcessorType | undefined;
  note: OrderNote | undefined;
  index: number;
  count: number;
  chosen: boolean;
  dragged: boolean;
  color: string;
  /** So many places on, or back. */
  onMove: (by: number) => void;
  onDrag: (x: number) => void;
  onDrop: (done: boolean) => void;
  onRemove: () => void;
}

/** How far the hand goes before a press is a drag, px. */
const dragFrom = 5;

/** One processor on the way: chosen with a press, moved by dragging or with Shift and the arrows. */
function Station(props: StationProps) {
  const { place, processor, type, note, index, count, chosen, dragged, color, onMove, onDrag, onDrop, onRemove } =
    props;
  const pressed = useRef<number | null>(null);
  const dragging = useRef(false);
  const item = useRef<HTMLLIElement>(null);
  // What is chosen is in sight, also where it was chosen by being added at the end of a long chain.
  useEffect(() => {
    if (chosen) item.current?.scrollIntoView({ block: "nearest", inline: "nearest" });
  }, [chosen]);
  if (!type) return null;
  const press = (e: KeyboardEvent) => {
    if (e.shiftKey && (e.key === "ArrowLeft" || e.key === "ArrowRight")) onMove(e.key === "ArrowRight" ? 1 : -1);
    else if (e.key === "Delete") onRemove();
    else return;
    e.preventDefault();
    e.stopPropagation();
  };
  const drag = (e: PointerEvent) => {
    if (pressed.current === null) return;
    if (!dragging.current && Math.abs(e.clientX - pressed.current) < dragFrom) return;
    dragging.current = true;
    onDrag(e.clientX);
  };
  const end = (done: boolean) => {
    if (dragging.current) onDrop(done);
    pressed.current = null;
    // The click that ends a drag chooses nothing.
    setTimeout(() => {
      dragging.current = false;
    });
  };
  return (
    <li ref={item} data-station={processor.id} className={`w-32 shrink-0 ${dragged ? "opacity-50" : ""}`}>
      <div className="relative flex h-7 items-center" aria-hidden="true">
        <LevelLine point={`stage/${processor.id}`} color={color} />
        <span
          className={`absolute left-1/2 h-3.5 w-3.5 -translate-x-1/2 rounded-full border-2 ${processor.bypassed ? "bg-ground" : ""}`}
          style={{ borderColor: color, background: processor.bypassed ? undefined : color }}
        />
      </div>
      <div
        className={`relative rounded-md border ${chosen ? "border-ink bg-raised shadow-md" : "border-line bg-surface hover:border-strong"}`}
      >
        <div className="flex h-7 items-center gap-1 pr-0.5 pl-1">
          <GripVertical size={12} className="shrink-0 text-quiet" aria-hidden="true" />
          <button
            type="button"
            {...stop}
            data-focus={`stage/${processor.id}`}
            aria-pressed={chosen}
            aria-describedby={note ? `note-${processor.id}` : undefined}
            title={`${type.name}, ${index + 1} of ${count}. Drag it, or Shift and the arrows, to move it.`}
            className={`min-w-0 grow touch-none truncate text-left text-[13px] font-medium after:absolute after:inset-0 ${processor.bypassed ? "text-quiet line-through" : ""}`}
            onClick={() => !dragging.current && showStage(processor.id)}
            onKeyDown={press}
            onPointerDown={(e) => {
              if (e.button !== 0) return;
              e.currentTarget.setPointerCapture(e.pointerId);
              pressed.current = e.clientX;
            }}
            onPointerMove={drag}
            onPointerUp={() => end(true)}
            onPointerCancel={() => end(false)}
          >
            {type.name}
          </button>
          {note && (
            <span className="relative z-10 shrink-0" title={note.words}>
              <TriangleAlert size={13} className="text-lamp-ink" aria-hidden="true" />
              <span id={`note-${processor.id}`} className="sr-only">
                {note.words}
              </span>
            </span>
          )}
          <BypassButton place={place} processor={processor} type={type} />
        </div>
        <div className={`h-11 overflow-hidden rounded-b-md ${processor.bypassed ? "opacity-35" : ""}`}>
          <Miniature processor={processor} type={type} color={color} />
        </div>
      </div>
    </li>
  );
}

function BypassButton({ place, processor, type }: { place: ChainPlace; processor: Processor; type: ProcessorType }) {
  const { set } = useTurning(place, processor.id, type);
  return (
    <button
      type="button"
      {...stop}
      aria-pressed={!processor.bypassed}
      aria-label={`${type.name} at work`}
      title={processor.bypassed ? "Bypassed: press to let it work" : "At work: press to bypass it"}
      className={`relative z-10 grid h-6 w-6 shrink-0 place-items-center rounded ${processor.bypassed ? "text-quiet" : "text-ink"} hover:bg-line`}
      onClick={() => set({ bypassed: !processor.bypassed })}
    >
      <Power size={13} strokeWidth={processor.bypassed ? 1.8 : 2.6} />
    </button>
  );
}
