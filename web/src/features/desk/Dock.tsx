import { type PointerEvent, type RefObject, useRef, useState } from "react";
import type { Mix, Source } from "@/core/api/client";
import { sendOf } from "@/core/commands/show";
import { meters } from "@/core/meters/meters";
import { textOf } from "@/core/place/place";
import { stop } from "@/shared/focus/roving";
import { decibels } from "@/shared/look/format";
import { zoomNow } from "@/shared/look/scale";
import { SourceSign } from "@/shared/look/sources";
import { axisFrom, axisTo } from "./axis";
import { type SendChange, useChangeSend } from "./changes";
import { allowedGain } from "./steps";

interface Props {
  mix: Mix;
  sources: readonly Source[];
  /** A marker is held over it. */
  lit: boolean;
  /** The axis: letting a chip go there places it. */
  stage: RefObject<HTMLDivElement | null>;
  /** The height there is for it, px. */
  room: number;
  folded: boolean;
}

/** What a named chip, and a row of chips that are signs only, needs, px. */
const chipHeight = 28;
const dockHead = 34;

/** What this listener does not hear. A press, or a drag onto the lane, brings it in. */
export function Dock({ mix, sources, lit, stage, room, folded }: Props) {
  const docked = sources.filter((s) => !sendOf(mix, s.id).heard);
  const signsOnly = docked.length * chipHeight + dockHead > room;
  if (folded)
    return (
      <p
        className={`m-1.5 flex h-[calc(100%-0.75rem)] items-center rounded-md border border-dashed px-1.5 text-[11px] text-quiet ${lit ? "border-ink bg-raised" : "border-line"}`}
        title={docked.map((s) => s.name).join(", ")}
      >
        {docked.length === 0 ? "hears everything" : `${docked.length} not heard`}
      </p>
    );
  return (
    <div
      className={`m-1.5 flex h-[calc(100%-0.75rem)] flex-col gap-1 rounded-md border border-dashed p-1.5 max-md:flex-row max-md:flex-wrap max-md:items-center ${lit ? "border-ink bg-raised" : "border-line"}`}
    >
      <h3 className="text-[11px] text-quiet">{docked.length === 0 ? "hears everything" : "does not hear"}</h3>
      <ul className={`flex gap-1 max-md:flex-row max-md:flex-wrap ${signsOnly ? "flex-wrap" : "flex-col"}`}>
        {docked.map((source) => (
          <Chip key={source.id} mix={mix} source={source} stage={stage} signOnly={signsOnly} />
        ))}
      </ul>
    </div>
  );
}

interface ChipProps {
  mix: Mix;
  source: Source;
  stage: RefObject<HTMLDivElement | null>;
  signOnly: boolean;
}

function Chip({ mix, source, stage, signOnly }: ChipProps) {
  const change = useChangeSend();
  const wasDragged = useRef(false);
  const [offset, setOffset] = useState<{ x: number; y: number } | null>(null);
  const bringIn = (more: SendChange) =>
    change.mutate({ mix: mix.id, source: source.id, change: { heard: true, ...more } });

  const grab = (down: PointerEvent<HTMLButtonElement>) => {
    if (down.button !== 0) return;
    const chip = down.currentTarget;
    chip.setPointerCapture(down.pointerId);
    let dragged = false;
    wasDragged.current = false;
    const move = (e: globalThis.PointerEvent) => {
      dragged ||= Math.hypot(e.clientX - down.clientX, e.clientY - down.clientY) > 3;
      wasDragged.current = dragged;
      if (dragged) setOffset({ x: (e.clientX - down.clientX) / zoomNow(), y: (e.clientY - down.clientY) / zoomNow() });
    };
    const drop = (e: globalThis.PointerEvent) => {
      chip.removeEventListener("pointermove", move);
      chip.removeEventListener("pointerup", drop);
      chip.removeEventListener("pointercancel", drop);
      setOffset(null);
      const box = stage.current?.getBoundingClientRect();
      if (!dragged || e.type === "pointercancel" || !box) return;
      if (e.clientX >= box.left && e.clientX <= box.right && e.clientY >= box.top && e.clientY <= box.bottom) {
        bringIn(placeAt((e.clientX - box.left) / box.width, mix, source));
      }
    };
    chip.addEventListener("pointermove", move);
    chip.addEventListener("pointerup", drop);
    chip.addEventListener("pointercancel", drop);
  };

  return (
    <li className="min-w-0">
      <button
        type="button"
        title={`${source.name}: let ${mix.name} hear it`}
        aria-label={`Let ${mix.name} hear ${source.name}`}
        data-chip={source.id}
        data-focus={textOf({ kind: "send", mix: mix.id, source: source.id })}
        {...stop}
        onPointerDown={grab}
        // A drag that ends is not a press.
        onClick={() => !wasDragged.current && bringIn({})}
        className={`narrow flex h-6 ${signOnly ? "w-6 justify-center md:[&>span]:sr-only" : "w-full"} max-w-40 touch-none items-center gap-1.5 rounded bg-raised px-1.5 text-xs hover:bg-line ${offset ? "relative z-30 shadow-lg" : ""}`}
        style={offset ? { transform: `translate(${offset.x}px, ${offset.y}px)` } : undefined}
      >
        <SourceSign source={source} size={11} />
        <span className="truncate">{source.name}</span>
      </button>
    </li>
  );
}

// The send that puts a source where it was dropped; where its loudness is not known yet, its send stays.
function placeAt(part: number, mix: Mix, source: Source): SendChange {
  const reference = meters.reference(source.id);
  if (!Number.isFinite(reference)) return {};
  const wanted = axisFrom + part * (axisTo - axisFrom);
  const gain = allowedGain(wanted - reference - decibels(mix.gain));
  return gain === "off" ? {} : { gain };
}
