import { useEffect, useRef } from "react";
import type { Processor, ProcessorType } from "@/core/api/client";
import { ProcessorMeter } from "@/core/api/generated/live";
import { meters } from "@/core/meters/meters";
import { watchPoint } from "@/core/meters/pointLevel";
import { useValues } from "@/features/chains/parts";
import { useCurve } from "./curve";
import { Drawing } from "./Drawing";
import { trace } from "./lines";
import { shareOfHertz, yOf } from "./scales";

/** Seconds that a small picture shows. */
const seconds = 4;
/** How much reduction fills it, dB; and the level from which on it shows one, dBFS. */
const full = 18;
const quiet = -60;
const range = { top: 15, bottom: -15 };

/** What a processor does right now, small: its response, or by how much it lowers. */
export function Miniature({ processor, type, color }: { processor: Processor; type: ProcessorType; color: string }) {
  const values = useValues(processor, type);
  const curve = useCurve(processor.type, values);
  const shown = useRef(curve);
  shown.current = curve;
  const past = useRef<{ at: number; share: number }[]>([]);
  const seen = useRef<unknown>(null);
  const level = useLevel(type.reduces || curve === undefined || curve.response ? null : `stage/${processor.id}`);
  // By how much it lowers hangs from above; what has no curve stands as loud as it leaves it.
  const history = type.reduces || level !== null;
  const now = () =>
    level
      ? Math.max(0, (level() - quiet) / -quiet)
      : Math.min(1, Math.max(0, meters.processor(processor.id, ProcessorMeter.reduction)) / full);
  return (
    <Drawing
      label={`${type.name}, what it does now`}
      color={color}
      draw={(context, width, height, ink) => {
        const drawn = shown.current;
        if (history) {
          // One value for each meter frame, however often it is drawn.
          const time = performance.now();
          if (meters.frame !== seen.current) {
            seen.current = meters.frame;
            past.current.push({ at: time, share: now() || 0 });
          }
          past.current = past.current.filter((p) => time - p.at < seconds * 1000);
          const x = (at: number) => width - ((time - at) / (seconds * 1000)) * width;
          const ground = type.reduces ? 0 : height;
          context.fillStyle = ink.line;
          for (const line of [1 / 3, 2 / 3]) context.fillRect(0, line * height, width, 1);
          context.beginPath();
          context.moveTo(width, ground);
          for (const { at, share } of past.current.toReversed())
            context.lineTo(x(at), type.reduces ? share * height : (1 - share) * height);
          context.lineTo(x(past.current[0]?.at ?? time), ground);
          context.closePath();
          context.fillStyle = ink.own;
          context.globalAlpha = 0.75;
          context.fill();
          context.globalAlpha = 1;
          return;
        }
        context.fillStyle = ink.line;
        context.fillRect(0, height / 2, width, 1);
        const response = drawn?.response;
        if (!response) return;
        const across = (i: number) => shareOfHertz(response.frequencies[i] ?? 20);
        const lines = type.key === "exciter" ? response.parts : [response.decibels];
        for (const line of lines) {
          trace(context, width, height, range, across, line);
          context.strokeStyle = ink.own;
          context.lineWidth = 1.75;
          context.stroke();
          if (type.key === "exciter") continue;
          context.lineTo(width, yOf(range, height, 0));
          context.lineTo(0, yOf(range, height, 0));
          context.closePath();
          context.fillStyle = ink.own;
          context.globalAlpha = 0.18;
          context.fill();
          context.globalAlpha = 1;
        }
      }}
    />
  );
}

/** Reads how loud it is at a point; null: nobody wants to know. */
function useLevel(point: string | null): (() => number) | null {
  const look = useRef<ReturnType<typeof watchPoint> | null>(null);
  useEffect(() => {
    if (point === null) return;
    const opened = watchPoint(point);
    look.current = opened;
    return () => {
      look.current = null;
      opened.close();
    };
  }, [point]);
  return point === null ? null : () => look.current?.read() ?? Number.NEGATIVE_INFINITY;
}
