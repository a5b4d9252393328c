import { type ReactNode, useRef } from "react";
import type { ProcessorCurve } from "@/core/api/client";
import { signed } from "@/shared/look/format";
import { Drawing } from "./Drawing";
import { drawSpectrum, frequencyGrid, levelGrid, trace } from "./lines";
import { useSpectrum } from "./looks";
import { responseRange, shareOfHertz, spectrumRange, yOf } from "./scales";

interface Props {
  label: string;
  color: string;
  /** The points that give what goes in, and what comes out. */
  before: string;
  after: string;
  curve: ProcessorCurve | undefined;
  /** What the parts of the curve are: drawn where they do something, or as what is listened to. */
  parts: "bands" | "heard";
  /** What is added or taken away alone, where that is drawn: its point, and its words. */
  change?: { of: string; words: string };
  /** What lies on it, to be dragged. */
  children?: ReactNode;
  /** What the part that is held looks like. */
  lit?: number | null;
}

/** What a processor does over frequency, over what goes in and what comes out now. */
export function ResponsePicture({ label, color, before, after, curve, parts, change, children, lit = null }: Props) {
  const goesIn = useSpectrum(before);
  const comesOut = useSpectrum(after);
  const changed = useSpectrum(change?.of ?? null);
  const response = curve?.response;
  const shown = useRef(response);
  shown.current = response;
  return (
    <div className="relative h-full min-h-0 overflow-hidden rounded-md border border-line bg-surface">
      <Drawing
        label={label}
        color={color}
        draw={(context, width, height, ink) => {
          frequencyGrid(context, width, height, ink);
          drawSpectrum(context, width, height, spectrumRange, goesIn, ink.quiet, true);
          drawSpectrum(context, width, height, spectrumRange, comesOut, ink.own, false);
          if (change) drawSpectrum(context, width, height, spectrumRange, changed, ink.lamp, false);
          const drawn = shown.current;
          if (drawn) levelGrid(context, width, height, responseRange, [12, 6, 0, -6, -12], ink, (v) => signed(v, 0));
          levelGrid(
            context,
            width,
            height,
            spectrumRange,
            [-24, -48, -72],
            { line: "transparent", quiet: ink.quiet, halo: ink.halo },
            (v) => `−${-v}`,
            "right",
          );
          if (!drawn) return;
          const across = (i: number) => shareOfHertz(drawn.frequencies[i] ?? 20);
          drawn.parts.forEach((part, index) => {
            if (parts === "bands" && part.every((v) => Math.abs(v) < 0.05)) return;
            trace(context, width, height, responseRange, across, part);
            if (parts === "bands") {
              context.lineTo(width, yOf(responseRange, height, 0));
              context.lineTo(0, yOf(responseRange, height, 0));
              context.closePath();
              context.fillStyle = index === lit ? ink.lamp : ink.ink;
              context.globalAlpha = index === lit ? 0.25 : 0.1;
              context.fill();
            } else {
              context.strokeStyle = ink.strong;
              context.setLineDash([5, 4]);
              context.lineWidth = 1.5;
              context.stroke();
              context.setLineDash([]);
            }
            context.globalAlpha = 1;
          });
          if (parts === "heard") return;
          trace(context, width, height, responseRange, across, drawn.decibels);
          context.strokeStyle = ink.ink;
          context.lineWidth = 2.25;
          context.lineJoin = "round";
          context.stroke();
        }}
      />
      {children}
      <Legend color={color} change={change?.words} />
    </div>
  );
}

function Legend({ color, change }: { color: string; change?: string }) {
  return (
    <p className="pointer-events-none absolute top-1.5 right-9 flex gap-3 text-[11px] text-quiet">
      <span className="flex items-center gap-1">
        <span className="h-2.5 w-2.5 bg-quiet/25" /> goes in
      </span>
      <span className="flex items-center gap-1">
        <span className="h-0.5 w-3" style={{ background: color }} /> comes out, dBFS
      </span>
      {change && (
        <span className="flex items-center gap-1">
          <span className="h-0.5 w-3 bg-lamp" /> {change}
        </span>
      )}
    </p>
  );
}
