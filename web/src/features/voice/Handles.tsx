import { type KeyboardEvent, type PointerEvent, useEffect, useRef, useState } from "react";
import type { Parameter, ProcessorType } from "@/core/api/client";
import { shareOf, valueAt, valueText } from "@/shared/forms/parameters";
import { decibelsAt, hertzAt, responseRange, shareOfHertz, yOf } from "./scales";

/** What lies on a response and is dragged: its frequency across, its gain up, where it has one. */
export interface Handle {
  key: string;
  words: string;
  sign: string;
  frequency: string;
  gain?: string;
  q?: string;
  /** Of a band: the parameter that says of what kind it is; 0 is off. */
  kind?: string;
  /** Where it stands that has no gain, dB. */
  rests: number;
}

interface Props {
  type: ProcessorType;
  handles: readonly Handle[];
  values: Record<string, number>;
  onTurn: (values: Record<string, number>) => void;
  onLetGo: () => void;
  /** Stores a value at once. */
  onStore: (values: Record<string, number>) => void;
  /** Which is in the hand, or has the focus; null: none. */
  onLit: (index: number | null) => void;
}

/** How much of a parameter's range one key press is, and with Shift. */
const keyStep = 0.01;
const fineStep = 0.002;
/** A wheel is one gesture until it has rested so long, ms. */
const wheelRest = 350;

/** The handles of a response: dragged, moved with the keys, and made narrower or wider with the wheel. */
export function Handles({ type, handles, values, onTurn, onLetGo, onStore, onLit }: Props) {
  return (
    <div className="absolute inset-0">
      {handles.map((handle, index) => (
        <OneHandle
          key={handle.key}
          handle={handle}
          type={type}
          values={values}
          onTurn={onTurn}
          onLetGo={onLetGo}
          onStore={onStore}
          onLit={(on) => onLit(on ? index : null)}
        />
      ))}
    </div>
  );
}

function OneHandle({
  handle,
  type,
  values,
  onTurn,
  onLetGo,
  onStore,
  onLit,
}: Omit<Props, "handles" | "onLit"> & { handle: Handle; onLit: (on: boolean) => void }) {
  const button = useRef<HTMLButtonElement>(null);
  const [held, setHeld] = useState(false);
  const find = (key: string | undefined) => type.parameters.find((p) => p.key === key);
  const [frequency, gain, q, kind] = [handle.frequency, handle.gain, handle.q, handle.kind].map(find);
  const value = (p: Parameter) => values[p.key] ?? p.default;
  const text = [frequency, gain, q].flatMap((p) =>
    p ? [`${p.name.replace(/ \d+$/, "")} ${valueText(p, value(p))}`] : [],
  );

  // Round through the kinds; off is left out, or the handle would go under the hand.
  const nextKind = (by: number) => {
    if (!kind) return;
    const most = kind.max;
    onStore({ [kind.key]: ((value(kind) - 1 + by + most) % most) + 1 });
  };
  const wheel = useRef<(by: number, kinds: boolean) => void>(() => {});
  const turnedAt = useRef(0);
  const rest = useRef<ReturnType<typeof setTimeout> | undefined>(undefined);
  wheel.current = (by, kinds) => {
    if (kinds) {
      // A wheel turns by many notches, and a kind is one step.
      const now = performance.now();
      if (now - turnedAt.current > wheelRest) nextKind(by > 0 ? 1 : -1);
      turnedAt.current = now;
      return;
    }
    if (!q) return;
    onTurn({ [q.key]: valueAt(q, Math.min(1, Math.max(0, shareOf(q, value(q)) + by))) });
    clearTimeout(rest.current);
    rest.current = setTimeout(onLetGo, wheelRest);
  };
  useEffect(() => {
    const on = button.current;
    const turn = (e: WheelEvent) => {
      e.preventDefault();
      // With Shift, browsers turn it sideways.
      wheel.current((e.deltaY || e.deltaX) < 0 ? 0.02 : -0.02, e.shiftKey);
    };
    // Not passive: or the page would scroll beneath.
    on?.addEventListener("wheel", turn, { passive: false });
    return () => on?.removeEventListener("wheel", turn);
  }, []);

  if (!frequency) return null;
  const at = (p: Parameter, by: number) => valueAt(p, Math.min(1, Math.max(0, shareOf(p, value(p)) + by)));
  const drag = (e: PointerEvent) => {
    if (!held) return;
    const box = button.current?.parentElement?.getBoundingClientRect();
    if (!box) return;
    const hertz = hertzAt((e.clientX - box.left) / box.width);
    const turned: Record<string, number> = { [frequency.key]: valueAt(frequency, shareOf(frequency, hertz)) };
    if (gain) {
      const decibels = decibelsAt(responseRange, box.height, e.clientY - box.top);
      turned[gain.key] = valueAt(gain, shareOf(gain, Math.min(gain.max, Math.max(gain.min, decibels))));
    }
    onTurn(turned);
  };
  const letGo = () => {
    if (!held) return;
    setHeld(false);
    onLetGo();
  };
  const press = (e: KeyboardEvent) => {
    if (kind && (e.key === "Enter" || e.key === "Delete")) {
      e.preventDefault();
      e.stopPropagation();
      if (e.repeat) return;
      if (e.key === "Delete") onStore({ [kind.key]: 0 });
      else nextKind(e.shiftKey ? -1 : 1);
      return;
    }
    const step = e.shiftKey ? fineStep : keyStep;
    const turned =
      e.key === "ArrowLeft" || e.key === "ArrowRight"
        ? { [frequency.key]: at(frequency, e.key === "ArrowRight" ? step : -step) }
        : gain && (e.key === "ArrowUp" || e.key === "ArrowDown")
          ? { [gain.key]: at(gain, e.key === "ArrowUp" ? step : -step) }
          : q && (e.key === "PageUp" || e.key === "PageDown")
            ? { [q.key]: at(q, e.key === "PageUp" ? 2 * step : -2 * step) }
            : null;
    if (!turned) return;
    e.preventDefault();
    e.stopPropagation();
    onTurn(turned);
  };
  const y = yOf(responseRange, 100, gain ? value(gain) : handle.rests);
  return (
    <button
      ref={button}
      type="button"
      aria-roledescription="handle"
      aria-label={`${handle.words}: ${text.join(", ")}`}
      title={`${handle.words}: ${text.join(", ")}. Drag it, or use the arrow keys${q ? "; wheel or Page keys for Q" : ""}${kind ? "; Enter, or Shift and the wheel, for another kind; Delete switches it off" : ""}.`}
      className={`absolute grid h-6 w-6 -translate-x-1/2 -translate-y-1/2 touch-none place-items-center rounded-md border-2 text-[11px] font-semibold select-none ${held ? "border-lamp bg-lamp text-on-lamp" : "border-ink bg-raised text-ink"}`}
      style={{
        left: `${shareOfHertz(value(frequency)) * 100}%`,
        top: `${Math.min(97, Math.max(3, y))}%`,
        cursor: gain ? "move" : "ew-resize",
      }}
      onPointerDown={(e) => {
        if (e.button !== 0) return;
        e.currentTarget.setPointerCapture(e.pointerId);
        setHeld(true);
        onLit(true);
      }}
      onPointerMove={drag}
      onPointerUp={letGo}
      onPointerCancel={letGo}
      onKeyDown={press}
      onKeyUp={(e) => /^(Arrow|Page)/.test(e.key) && onLetGo()}
      onFocus={() => onLit(true)}
      onBlur={() => {
        onLit(false);
        onLetGo();
      }}
    >
      {handle.sign}
    </button>
  );
}
