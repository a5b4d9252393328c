import { useQueryClient } from "@tanstack/react-query";
import { TriangleAlert } from "lucide-react";
import { type KeyboardEvent, type PointerEvent, useEffect, useRef, useState } from "react";
import type { Gain, Mix, Source } from "@/core/api/client";
import { type Seen, seenBy, sendOf } from "@/core/commands/show";
import { meters, onPaint } from "@/core/meters/meters";
import { enter } from "@/core/place/entry";
import { select, textOf, usePlace } from "@/core/place/place";
import { useFindingsAt } from "@/features/findings";
import { firstStop } from "@/shared/focus/roving";
import { decibels, decimal, gainText } from "@/shared/look/format";
import { colorOf, SourceSign } from "@/shared/look/sources";
import { markerLufs, pixelsToLu, share } from "./axis";
import { useChangeSend } from "./changes";
import { dragKey, drags, endPreview, previewSend } from "./drags";
import { markerOf, type Row } from "./rows";
import { allowedGain, isStored } from "./steps";

const coarse = 0.5;
const fine = 0.1;
const page = 3;

// Where a source stands that has not sounded yet, so that its marker can be reached.
const unheardLufs = -45;

/** Width of a marker's sign, px: what is grabbed and focused. */
const markerWidth = 20;

/** Moving less than this is a click. */
const dragFrom = 3;

/** What a hand does is sent on no more often than this, ms: an engine's block is 5.3. */
const sendEvery = 4;

interface Props {
  mix: Mix;
  row: Row;
  /** Held muted, since it records from a cable that closes a loop. */
  held: boolean;
  /** Over the dock, while dragged: letting go there docks it. */
  onOverDock: (over: boolean) => void;
  isOverDock: (x: number) => boolean;
}

/**
 * One source in one lane, standing where it sounds: its measured loudness, its send and the mix's gain. A slider: dragged,
 * or moved with the keys.
 */
export function Marker({ mix, row, held, onOverDock, isOverDock }: Props) {
  const { source, top, height, folded } = row;
  const sizes = markerOf(row);
  const send = sendOf(mix, source.id);
  const dragged = drags.use((s) => s.values[dragKey(mix.id, source.id)]);
  const gain = dragged ?? send.gain;
  const selected = usePlace(({ selection: s }) => s?.kind === "send" && s.mix === mix.id && s.source === source.id);
  const here = { kind: "send", mix: mix.id, source: source.id } as const;
  const element = useRef<HTMLDivElement>(null);
  const label = useRef<HTMLSpanElement>(null);
  const tick = useRef<HTMLDivElement>(null);
  const keyed = useRef<Gain>(undefined);
  // What the person saw when the gesture began: what others change from then on is not overwritten unseen.
  const began = useRef<Seen | null>(null);
  const queries = useQueryClient();
  const change = useChangeSend();
  const [grabbed, setGrabbed] = useState(false);
  const [finding] = useFindingsAt(`mix/${mix.id}`, `source/${source.id}`);

  useEffect(() => {
    let flipped = false;
    return onPaint(() => {
      const marker = element.current;
      const width = marker?.parentElement?.clientWidth ?? 0;
      if (!marker || width === 0) return;
      const reference = meters.reference(source.id);
      const known = reference > Number.NEGATIVE_INFINITY;
      const base = known ? reference : unheardLufs;
      const db = decibels(drags.get(dragKey(mix.id, source.id)) ?? send.gain);
      const mixDb = decibels(mix.gain);
      const x = share(markerLufs(base, db, mixDb)) * width;
      marker.style.transform = `translate(${(x - markerWidth / 2).toFixed(1)}px, ${top}px)`;
      marker.dataset.known = String(known);
      const needed = (label.current?.offsetWidth ?? 0) + markerWidth;
      const flip = width - x < needed && x > needed;
      if (flip !== flipped) {
        flipped = flip;
        marker.dataset.flip = String(flip);
      }
      if (tick.current) {
        tick.current.style.transform = `translate(${(share(markerLufs(base, 0, mixDb)) * width).toFixed(1)}px, ${top + height - sizes.tick}px)`;
        tick.current.style.opacity = known ? "1" : "0";
      }
    });
  }, [mix.id, mix.gain, source.id, send.gain, top, height, sizes.tick]);

  const hear = (next: Gain) => {
    previewSend(queries, mix.id, source.id, next);
    drags.set(dragKey(mix.id, source.id), next);
  };

  const store = (next: Gain) => {
    const on = began.current ?? undefined;
    began.current = null;
    if (isStored(queries, mix.id, source.id, next)) {
      drags.end(dragKey(mix.id, source.id));
      endPreview(mix.id, source.id);
      return;
    }
    // A promise, and not a callback: it ends the drag even where this marker has gone to the dock meanwhile. What the hand
    // does by then is another gesture, and goes on.
    const isMine = () => drags.get(dragKey(mix.id, source.id)) === next;
    change
      .mutateAsync({ mix: mix.id, source: source.id, change: { gain: next }, on })
      .catch(() => isMine() && endPreview(mix.id, source.id))
      .finally(() => isMine() && drags.end(dragKey(mix.id, source.id)));
  };

  // However long a key is held, or how many follow each other while one is down: one change, stored when it is let go.
  const storeKeyed = () => {
    const next = keyed.current;
    keyed.current = undefined;
    if (next !== undefined) store(next);
  };

  const grab = (down: PointerEvent<HTMLDivElement>) => {
    if (down.button !== 0) return;
    const marker = down.currentTarget;
    // In the screen's pixels, as the pointer is.
    const width = marker.parentElement?.getBoundingClientRect().width ?? 1;
    const from = decibels(gain === "off" ? -60 : gain);
    const startX = down.clientX;
    let moved = false;
    let next: Gain = gain;
    let docking = false;
    let sent: Gain | null = null;
    let sentAt = 0;
    marker.setPointerCapture(down.pointerId);
    began.current = seenBy(queries);
    const follow = (e: globalThis.PointerEvent): boolean => {
      const by = e.clientX - startX;
      if (!moved && Math.abs(by) < dragFrom) return false;
      moved = true;
      docking = isOverDock(e.clientX);
      next = docking ? send.gain : allowedGain(from + pixelsToLu(by, width));
      return true;
    };
    const sendOn = () => {
      if (next === sent) return;
      sent = next;
      sentAt = performance.now();
      previewSend(queries, mix.id, source.id, next);
    };
    // The engine hears of it at once, the screen with its next picture: pointermove waits for that, up to 17 ms.
    const race = (e: Event) => {
      if (performance.now() - sentAt >= sendEvery && follow(e as globalThis.PointerEvent)) sendOn();
    };
    const move = (e: globalThis.PointerEvent) => {
      if (!follow(e)) return;
      sendOn();
      setGrabbed(true);
      onOverDock(docking);
      drags.set(dragKey(mix.id, source.id), next);
    };
    const drop = (e: globalThis.PointerEvent) => {
      marker.removeEventListener("pointerrawupdate", race);
      marker.removeEventListener("pointermove", move);
      marker.removeEventListener("pointerup", drop);
      marker.removeEventListener("pointercancel", drop);
      setGrabbed(false);
      onOverDock(false);
      if (!moved) {
        select(selected ? null : here);
      } else if (e.type === "pointercancel") {
        drags.end(dragKey(mix.id, source.id));
        endPreview(mix.id, source.id);
      } else if (docking) {
        drags.end(dragKey(mix.id, source.id));
        change.mutate({ mix: mix.id, source: source.id, change: { heard: false } });
      } else {
        store(next);
      }
    };
    marker.addEventListener("pointerrawupdate", race);
    marker.addEventListener("pointermove", move);
    marker.addEventListener("pointerup", drop);
    marker.addEventListener("pointercancel", drop);
  };

  const press = (e: KeyboardEvent) => {
    if (e.ctrlKey || e.metaKey || e.altKey) return;
    const now = gain === "off" ? -60 : gain;
    const step = e.shiftKey ? fine : coarse;
    const moves: Record<string, Gain> = {
      ArrowLeft: allowedGain(now - step),
      ArrowRight: allowedGain(now + step),
      PageDown: allowedGain(now - page),
      PageUp: allowedGain(now + page),
      Home: "off",
      End: 12,
      "0": 0,
    };
    const next = moves[e.key];
    if (next !== undefined) {
      e.preventDefault();
      e.stopPropagation();
      began.current ??= seenBy(queries);
      keyed.current = next;
      hear(next);
    } else if (e.key === "m" || e.key === "M") {
      e.stopPropagation();
      storeKeyed();
      change.mutate({ mix: mix.id, source: source.id, change: { muted: !send.muted } });
    } else if (e.key === "d" || e.key === "D" || e.key === "Delete") {
      e.stopPropagation();
      storeKeyed();
      change.mutate({ mix: mix.id, source: source.id, change: { heard: false } });
    } else if (e.key === "Enter") {
      e.preventDefault();
      e.stopPropagation();
      enter(here);
    } else if (e.key === " ") {
      e.preventDefault();
      e.stopPropagation();
      select(selected ? null : here);
    }
  };

  return (
    <>
      <div
        ref={tick}
        aria-hidden="true"
        className="pointer-events-none absolute top-0 left-0 w-px bg-strong opacity-0"
        style={{ height: sizes.tick }}
      />
      <div
        ref={element}
        role="slider"
        // One Tab stop for the whole lane, which says who has it.
        tabIndex={-1}
        {...firstStop}
        data-focus={textOf(here)}
        aria-orientation="horizontal"
        title={
          [folded ? `${source.name} ${gainText(gain)}` : "", finding?.sentence].filter(Boolean).join(". ") || undefined
        }
        aria-label={`${source.name} in ${mix.name}`}
        aria-valuemin={-60}
        aria-valuemax={12}
        aria-valuenow={gain === "off" ? -60 : gain}
        aria-valuetext={`${gainText(gain)}${send.muted ? ", muted" : ""}${held ? ", held: a loop" : ""}${finding ? `. ${finding.sentence}` : ""}`}
        data-mix={mix.id}
        data-source={source.id}
        onPointerDown={grab}
        onKeyDown={press}
        onKeyUp={storeKeyed}
        onBlur={storeKeyed}
        className={`group absolute top-0 left-0 rounded touch-none select-none focus:z-20 ${grabbed ? "z-20 cursor-grabbing" : "z-10 cursor-grab"}`}
        style={{ height: Math.max(10, height - 2), width: markerWidth }}
      >
        <span
          className={`absolute left-0 flex w-5 items-center justify-center rounded-full ${selected ? "ring-2 ring-ink" : ""} ${send.muted ? "opacity-40" : ""} group-data-[known=false]:opacity-50`}
          style={{ top: sizes.signTop, height: sizes.sign < 16 ? sizes.sign : 20, color: colorOf(source) }}
        >
          <SourceSign source={source} size={sizes.sign} />
        </span>
        <span
          ref={label}
          className={`narrow absolute left-full ${folded ? "hidden rounded bg-raised group-hover:flex group-focus:flex" : "flex"} items-baseline py-1 pl-1 -mt-1 gap-1.5 leading-none whitespace-nowrap group-data-[flip=true]:right-full group-data-[flip=true]:left-auto group-data-[flip=true]:pr-1 group-data-[flip=true]:pl-0 group-data-[flip=true]:flex-row-reverse`}
          style={{ top: sizes.textTop }}
        >
          <span
            className={`max-w-32 truncate ${sizes.text < 13 ? "text-[11px] leading-3" : "text-[13px] leading-4"} ${send.muted ? "text-quiet line-through" : ""}`}
          >
            {source.name}
          </span>
          <span className="text-[11px] text-quiet">{gainText(gain)}</span>
          {send.muted && <span className="text-[11px] text-quiet">muted</span>}
          {finding && (
            <TriangleAlert
              size={13}
              className={`self-center ${finding.harm === "Serious" ? "text-wrong" : "text-lamp-ink"}`}
              aria-hidden="true"
            />
          )}
          {held ? (
            <span className="text-[11px] text-wrong">held: a loop</span>
          ) : (
            <span className="hidden text-[11px] text-quiet group-data-[known=false]:inline">no sound yet</span>
          )}
        </span>
        {grabbed && <LiveValue mix={mix} source={source} gain={gain} height={height} />}
      </div>
    </>
  );
}

/** While dragged: where it now stands. */
function LiveValue({ mix, source, gain, height }: { mix: Mix; source: Source; gain: Gain; height: number }) {
  const lufs = markerLufs(meters.reference(source.id), decibels(gain), decibels(mix.gain));
  return (
    <span
      className="absolute left-1/2 -translate-x-1/2 rounded border border-line bg-raised px-1.5 py-0.5 text-[11px] whitespace-nowrap shadow"
      style={{ top: -(height - 6) }}
    >
      stands at {decimal(lufs)} LUFS
    </span>
  );
}
