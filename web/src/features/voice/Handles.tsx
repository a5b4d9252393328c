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
  /** Where it stands that has no gain, dB. */
  rests: number;
}

interface Props {
  type: ProcessorType;
  handles: readonly Handle[];
  values: Record<string, number>;
  onTurn: (values: Record<string, number>) => void;
  onLetGo: () => void;
  /** Which is in the hand, or has the focus; null: none. */
  onLit: (index: number | null) => void;
}

/** How much of a parameter's range one key press is, and with Shift. */
const keyStep = 0.01;
const fineStep = 0.002;
/** A wheel is one gesture until it has rested so long, ms. */
const wheelRest = 350;

/** The handles of a response: dragged, moved with the keys, and made narrower or wider with the wheel. */
export function Handles({ type, handles, values, onTurn, onLetGo, onLit }: Props) {
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
  onLit,
}: Omit<Props, "handles" | "onLit"> & { handle: Handle; onLit: (on: boolean) => void }) {
  const button = useRef<HTMLButtonElement>(null);
  const [held, setHeld] = useState(false);
  const find = (key: string | undefined) => type.parameters.find((p) => p.key === key);
  const [frequency, gain, q] = [find(handle.frequency), find(handle.gain), find(handle.q)];
  const value = (p: Parameter) => values[p.key] ?? p.default;
  const text = [frequency, gain, q].flatMap((p) =>
    p ? [`${p.name.replace(/ \d+$/, "")} ${valueText(p, value(p))}`] : [],
  );

  const wheel = useRef<(by: number) => void>(() => {});
  const rest = useRef<ReturnType<typeof setTimeout> | undefined>(undefined);
  wheel.current = (by) => {
    if (!q) return;
    onTurn({ [q.key]: valueAt(q, Math.min(1, Math.max(0, shareOf(q, value(q)) + by))) });
    clearTimeout(rest.current);
    rest.current = setTimeout(onLetGo, wheelRest);
  };
  useEffect(() => {
    const on = button.current;
    const turn = (e: WheelEvent) => {
      e.preventDefault();
      wheel.current(e.deltaY < 0 ? 0.02 : -0.02);
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
      title={`${handle.words}: ${text.join(", ")}. Drag it, or use the arrow keys${q ? "; wheel or Page keys for Q" : ""}.`}
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
