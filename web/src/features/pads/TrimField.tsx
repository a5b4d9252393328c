import { type KeyboardEvent, type PointerEvent, useEffect, useMemo, useRef, useState } from "react";
import type { Pad, StoredSound } from "@/core/api/client";
import { columnsOf, lengthText, outlineOf } from "./waveform";

interface Props {
  pad: Pad;
  sound: StoredSound;
  onChange: (change: { begin: number; end: number }) => void;
}

/** The shortest that a pad can be, ms. */
const shortest = 20;

/** A pad's whole sound, and which part of it is played: both edges are dragged, or moved by arrow keys. */
export function TrimField({ pad, sound, onChange }: Props) {
  const length = sound.seconds * 1000;
  const [dragged, setDragged] = useState<{ begin: number; end: number } | null>(null);
  const { begin, end } = dragged ?? { begin: Math.min(pad.begin, length), end: Math.min(pad.end, length) };
  const outline = useMemo(() => outlineOf(columnsOf(sound), 0, 1, 200), [sound]);
  const box = useRef<HTMLDivElement>(null);
  // However long an arrow is held: one change, once it is let go.
  const waiting = useRef<{ begin: number; end: number } | null>(null);
  // biome-ignore lint/correctness/useExhaustiveDependencies: another pad's trim is nobody's drag
  useEffect(() => setDragged(null), [pad.id, pad.begin, pad.end]);

  const held = (edge: "begin" | "end", to: number) =>
    edge === "begin"
      ? { begin: Math.round(Math.min(Math.max(0, to), end - shortest)), end }
      : { begin, end: Math.round(Math.max(Math.min(length, to), begin + shortest)) };
  const take = () => {
    const change = waiting.current;
    waiting.current = null;
    // To the sound's own end, whatever that is to the sample.
    if (change)
      onChange({ begin: change.begin, end: change.end >= Math.floor(length) ? Math.ceil(length) : change.end });
  };
  const to = (edge: "begin" | "end", at: number) => {
    waiting.current = held(edge, at);
    setDragged(waiting.current);
  };
  const drag = (edge: "begin" | "end") => ({
    onPointerDown: (e: PointerEvent<HTMLElement>) => {
      e.currentTarget.setPointerCapture(e.pointerId);
      e.currentTarget.focus();
    },
    onPointerMove: (e: PointerEvent<HTMLElement>) => {
      if (!e.currentTarget.hasPointerCapture(e.pointerId) || !box.current) return;
      const { left, width } = box.current.getBoundingClientRect();
      to(edge, ((e.clientX - left) / width) * length);
    },
    onPointerUp: take,
    onPointerCancel: () => {
      waiting.current = null;
      setDragged(null);
    },
    onKeyDown: (e: KeyboardEvent<HTMLElement>) => {
      const by = { ArrowLeft: -1, ArrowDown: -1, ArrowRight: 1, ArrowUp: 1, PageDown: -20, PageUp: 20 }[e.key];
      const now = edge === "begin" ? begin : end;
      if (by !== undefined) to(edge, now + by * (e.shiftKey ? 1 : Math.max(5, length / 400)));
      else if (e.key === "Home") to(edge, 0);
      else if (e.key === "End") to(edge, length);
      else return;
      e.preventDefault();
      e.stopPropagation();
    },
    onKeyUp: take,
    onBlur: take,
  });
  const handle = (edge: "begin" | "end", words: string) => {
    const at = edge === "begin" ? begin : end;
    return (
      <span
        role="slider"
        tabIndex={0}
        aria-label={words}
        aria-valuemin={0}
        aria-valuemax={Math.ceil(length)}
        aria-valuenow={Math.round(at)}
        aria-valuetext={`${(at / 1000).toFixed(2)} s`}
        className="absolute top-0 h-full w-4 -translate-x-1/2 cursor-ew-resize touch-none after:absolute after:left-1/2 after:h-full after:w-0.5 after:-translate-x-1/2 after:bg-ink"
        style={{ left: `${(at / length) * 100}%` }}
        {...drag(edge)}
      />
    );
  };
  return (
    <div>
      <div ref={box} className="relative mx-2 h-16 rounded bg-ground">
        <svg viewBox="0 0 100 100" preserveAspectRatio="none" aria-hidden="true" className="h-full w-full">
          <path d={outline} fill="var(--strong)" opacity={0.45} />
          <path
            d={outline}
            fill={`var(--source-${pad.look.color})`}
            style={{ clipPath: `inset(0 ${100 - (end / length) * 100}% 0 ${(begin / length) * 100}%)` }}
          />
        </svg>
        {handle("begin", "Begins at")}
        {handle("end", "Ends at")}
      </div>
      <p className="mt-1 flex justify-between text-xs text-quiet tabular-nums">
        <span>
          {(begin / 1000).toFixed(2)} – {(end / 1000).toFixed(2)} s
        </span>
        <span>plays {lengthText((end - begin) / 1000)}</span>
      </p>
    </div>
  );
}
