import { type KeyboardEvent, type PointerEvent, useRef, useState } from "react";
import type { Parameter } from "@/core/api/client";
import { shareOf, valueAt, valueText } from "@/shared/forms/parameters";
import { Drawing, type Ink } from "./Drawing";
import { levelGrid } from "./lines";
import { type Dynamics, historyBlocks, levelBins } from "./looks";
import { decibelsAt, levelRange, yOf } from "./scales";

/** A level that is set on the picture, and dragged there. */
export interface LevelLine {
  parameter: Parameter;
  value: number;
  onTurn: (value: number) => void;
  onLetGo: () => void;
}

interface Props {
  label: string;
  color: string;
  dynamics: Dynamics;
  /** What stands on it: a threshold. */
  line?: LevelLine;
  /** So far below the line it lets go, dB. */
  hysteresis?: number;
  /** How often each level was heard, at its right: the room is a hump. */
  distribution?: boolean;
  /** Whether it opens and shuts. */
  gate?: boolean;
  /** What is drawn as a level: what it listens to, or what goes in and comes out. */
  levels: "heard" | "through";
}

/** Room for how often each level was heard, px. */
const side = 96;
/** Room for how much it lowers, a share of the height. */
const reductionShare = 0.3;
const reductionFull = 24;
const seconds = 8;

/** The last eight seconds: how loud it was, by how much it was lowered, and where the threshold lies. */
export function LevelPicture({ label, color, dynamics, line, hysteresis, distribution, gate, levels }: Props) {
  return (
    <div className="relative h-full min-h-0 overflow-hidden rounded-md border border-line bg-surface">
      <Drawing
        label={label}
        color={color}
        draw={(context, width, height, ink) => {
          const wide = width - (distribution ? side : 0);
          if (gate) drawGate(context, wide, height, ink, dynamics);
          drawLevels(context, wide, height, ink, dynamics, levels);
          drawReduction(context, wide, height, ink, dynamics);
          if (distribution) drawDistribution(context, wide, height, ink, dynamics);
          levelGrid(context, width, height, levelRange, [-12, -24, -36, -48, -60, -72], ink, (v) => `−${-v}`);
          if (line) {
            const y = yOf(levelRange, height, line.value);
            context.fillStyle = ink.ink;
            context.fillRect(0, y - 0.75, width, 1.5);
            if (hysteresis) {
              context.strokeStyle = ink.ink;
              context.setLineDash([3, 4]);
              context.beginPath();
              context.moveTo(0, yOf(levelRange, height, line.value - hysteresis));
              context.lineTo(width, yOf(levelRange, height, line.value - hysteresis));
              context.stroke();
              context.setLineDash([]);
            }
          }
        }}
      />
      {line && <Grip line={line} />}
      <p className="pointer-events-none absolute bottom-3 left-8 rounded bg-surface/80 px-1 text-[11px] text-quiet">
        {levels === "heard" ? "filled: what it listens to" : "filled: goes in"} · line: comes out, dBFS · from above: by
        how much it lowers · {seconds} s
      </p>
    </div>
  );
}

/** The threshold on the picture: dragged up and down, or moved with the keys. */
function Grip({ line: { parameter, value, onTurn, onLetGo } }: { line: LevelLine }) {
  const grip = useRef<HTMLDivElement>(null);
  const [held, setHeld] = useState(false);
  const letGo = () => {
    if (!held) return;
    setHeld(false);
    onLetGo();
  };
  const drag = (e: PointerEvent) => {
    const box = grip.current?.parentElement?.getBoundingClientRect();
    if (!held || !box) return;
    const level = decibelsAt(levelRange, box.height, e.clientY - box.top);
    onTurn(valueAt(parameter, shareOf(parameter, Math.min(parameter.max, Math.max(parameter.min, level)))));
  };
  const press = (e: KeyboardEvent) => {
    if (e.key !== "ArrowUp" && e.key !== "ArrowDown") return;
    e.preventDefault();
    const by = (e.key === "ArrowUp" ? 1 : -1) * (e.shiftKey ? 0.1 : 1);
    onTurn(Math.min(parameter.max, Math.max(parameter.min, Math.round((value + by) * 10) / 10)));
  };
  return (
    <div
      ref={grip}
      role="slider"
      tabIndex={0}
      aria-label={`${parameter.name}, on the picture`}
      aria-orientation="vertical"
      aria-valuemin={parameter.min}
      aria-valuemax={parameter.max}
      aria-valuenow={value}
      aria-valuetext={valueText(parameter, value)}
      title={`${parameter.name} ${valueText(parameter, value)}: drag it, or use the arrow keys.`}
      className={`absolute right-1 -translate-y-1/2 cursor-ns-resize touch-none rounded-md border-2 px-1.5 py-0.5 text-[11px] font-semibold select-none ${held ? "border-lamp bg-lamp text-on-lamp" : "border-ink bg-raised text-ink"}`}
      style={{ top: `${Math.min(96, Math.max(4, yOf(levelRange, 100, value)))}%` }}
      onPointerDown={(e) => {
        e.currentTarget.setPointerCapture(e.pointerId);
        setHeld(true);
      }}
      onPointerMove={drag}
      onPointerUp={letGo}
      onPointerCancel={letGo}
      onKeyDown={press}
      onKeyUp={(e) => /^Arrow/.test(e.key) && onLetGo()}
      onBlur={onLetGo}
    >
      {valueText(parameter, value)}
    </div>
  );
}

/** For each pixel across, the blocks that stand there. */
function columns(dynamics: Dynamics, wide: number, take: (x: number, from: number, to: number) => void) {
  const { blocks } = dynamics;
  const first = historyBlocks - blocks.length;
  for (let x = 0; x < wide; x++) {
    const from = Math.floor((x / wide) * historyBlocks) - first;
    const to = Math.max(from + 1, Math.floor(((x + 1) / wide) * historyBlocks) - first);
    if (from >= 0 && to <= blocks.length) take(x, from, to);
  }
}

function most(dynamics: Dynamics, from: number, to: number, of: "heard" | "in" | "out" | "reduction"): number {
  let top = Number.NEGATIVE_INFINITY;
  for (let i = from; i < to; i++) top = Math.max(top, dynamics.blocks[i]?.[of] ?? top);
  return top;
}

function drawGate(context: CanvasRenderingContext2D, wide: number, height: number, ink: Ink, dynamics: Dynamics) {
  columns(dynamics, wide, (x, from) => {
    const gate = dynamics.blocks[from]?.gate ?? 0;
    if (gate < 2) return;
    context.fillStyle = ink.lamp;
    context.globalAlpha = gate === 2 ? 0.9 : 0.4;
    context.fillRect(x, height - 5, 1, 5);
  });
  context.globalAlpha = 1;
}

function drawLevels(
  context: CanvasRenderingContext2D,
  wide: number,
  height: number,
  ink: Ink,
  dynamics: Dynamics,
  levels: Props["levels"],
) {
  context.fillStyle = ink.own;
  context.globalAlpha = 0.45;
  columns(dynamics, wide, (x, from, to) => {
    const y = yOf(levelRange, height, most(dynamics, from, to, levels === "heard" ? "heard" : "in"));
    context.fillRect(x, y, 1, height - y);
  });
  context.globalAlpha = 1;
  context.beginPath();
  columns(dynamics, wide, (x, from, to) => {
    context.lineTo(x, yOf(levelRange, height, most(dynamics, from, to, "out")));
  });
  context.strokeStyle = ink.own;
  context.lineWidth = 1.25;
  context.stroke();
}

function drawReduction(context: CanvasRenderingContext2D, wide: number, height: number, ink: Ink, dynamics: Dynamics) {
  context.fillStyle = ink.quiet;
  context.globalAlpha = 0.55;
  columns(dynamics, wide, (x, from, to) => {
    const lowered = Math.min(reductionFull, most(dynamics, from, to, "reduction"));
    context.fillRect(x, 0, 1, (lowered / reductionFull) * reductionShare * height);
  });
  context.globalAlpha = 1;
}

function drawDistribution(
  context: CanvasRenderingContext2D,
  wide: number,
  height: number,
  ink: Ink,
  dynamics: Dynamics,
) {
  context.fillStyle = ink.line;
  context.fillRect(wide, 0, 1, height);
  const top = Math.max(...dynamics.bins, 1);
  context.fillStyle = ink.own;
  context.globalAlpha = 0.6;
  for (let i = 0; i < levelBins; i++) {
    const level = i - levelBins;
    const [y, next] = [yOf(levelRange, height, level + 1), yOf(levelRange, height, level)];
    context.fillRect(wide + 1, y, ((dynamics.bins[i] ?? 0) / top) * (side - 8), Math.max(1, next - y - 0.5));
  }
  context.globalAlpha = 1;
}
