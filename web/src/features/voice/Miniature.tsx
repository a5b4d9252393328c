import { useRef } from "react";
import type { Processor, ProcessorType } from "@/core/api/client";
import { ProcessorMeter } from "@/core/api/generated/live";
import { meters } from "@/core/meters/meters";
import { useValues } from "@/features/chains/parts";
import { useCurve } from "./curve";
import { Drawing } from "./Drawing";
import { trace } from "./lines";
import { shareOfHertz, yOf } from "./scales";

/** Seconds of reduction that a small picture shows. */
const seconds = 4;
const full = 18;
const range = { top: 15, bottom: -15 };

/** What a processor does right now, small: its response, or by how much it lowers. */
export function Miniature({ processor, type, color }: { processor: Processor; type: ProcessorType; color: string }) {
  const values = useValues(processor, type);
  const curve = useCurve(processor.type, values);
  const shown = useRef(curve);
  shown.current = curve;
  const past = useRef<{ at: number; reduction: number }[]>([]);
  const seen = useRef<unknown>(null);
  return (
    <Drawing
      label={`${type.name}, what it does now`}
      color={color}
      draw={(context, width, height, ink) => {
        const drawn = shown.current;
        if (type.reduces) {
          // One value for each meter frame, however often it is drawn.
          const now = performance.now();
          if (meters.frame !== seen.current) {
            seen.current = meters.frame;
            past.current.push({
              at: now,
              reduction: Math.max(0, meters.processor(processor.id, ProcessorMeter.reduction)) || 0,
            });
          }
          past.current = past.current.filter((p) => now - p.at < seconds * 1000);
          context.fillStyle = ink.line;
          for (const level of [6, 12]) context.fillRect(0, (level / full) * height, width, 1);
          context.beginPath();
          context.moveTo(width, 0);
          for (const { at, reduction } of past.current.toReversed())
            context.lineTo(
              width - ((now - at) / (seconds * 1000)) * width,
              (Math.min(full, reduction) / full) * height,
            );
          context.lineTo(width - ((now - (past.current[0]?.at ?? now)) / (seconds * 1000)) * width, 0);
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
