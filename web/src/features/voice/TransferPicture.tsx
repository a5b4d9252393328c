import { useRef } from "react";
import type { ProcessorCurve } from "@/core/api/client";
import { Drawing } from "./Drawing";
import { trace } from "./lines";
import type { Dynamics } from "./looks";
import { yOf } from "./scales";

interface Props {
  label: string;
  color: string;
  curve: ProcessorCurve | undefined;
  dynamics: Dynamics;
  /** Up stands what comes out, or only what it does to the sound. */
  up: "out" | "change";
}

/** How many of the last blocks are drawn as a trail. */
const trail = 40;

/** What comes out for what goes in, and where the sound is on it now. */
export function TransferPicture({ label, color, curve, dynamics, up }: Props) {
  const transfer = curve?.transfer;
  const shown = useRef(transfer);
  shown.current = transfer;
  return (
    <div className="relative h-full min-h-0 overflow-hidden rounded-md border border-line bg-surface">
      <Drawing
        label={label}
        color={color}
        draw={(context, width, height, ink) => {
          const drawn = shown.current;
          const [from = -80, to = 0] = [drawn?.in[0], drawn?.in.at(-1)];
          const range = up === "out" ? { top: to, bottom: from } : { top: 3, bottom: -27 };
          const share = (level: number) => (level - from) / (to - from);
          context.fillStyle = ink.line;
          for (let level = Math.ceil(from / 12) * 12; level <= to; level += 12)
            context.fillRect(Math.round(share(level) * width), 0, 1, height);
          for (let level = Math.ceil(range.bottom / 12) * 12; level <= range.top; level += up === "out" ? 12 : 6)
            context.fillRect(0, Math.round(yOf(range, height, level)), width, 1);
          context.fillStyle = ink.quiet;
          context.textAlign = "center";
          for (let level = Math.ceil(from / 24) * 24; level < to; level += 24)
            if (share(level) > 0.04)
              context.fillText(String(level).replace("-", "−"), share(level) * width, height - 4);
          context.textAlign = "left";
          for (let level = Math.ceil(range.bottom / 12) * 12; level < range.top; level += 12) {
            const y = yOf(range, height, level);
            if (y < height - 18 && y > 12) context.fillText(String(level).replace("-", "−"), 4, y - 3);
          }
          if (!drawn) return;
          if (up === "out") {
            context.beginPath();
            context.moveTo(0, height);
            context.lineTo(width, 0);
            context.strokeStyle = ink.strong;
            context.setLineDash([2, 4]);
            context.stroke();
            context.setLineDash([]);
          }
          const across = (i: number) => share(drawn.in[i] ?? from);
          if (drawn.back.length > 0) {
            trace(context, width, height, range, across, drawn.back);
            context.strokeStyle = ink.strong;
            context.lineWidth = 1.5;
            context.stroke();
          }
          trace(context, width, height, range, across, drawn.out);
          context.strokeStyle = ink.ink;
          context.lineWidth = 2.25;
          context.stroke();
          const blocks = dynamics.blocks.slice(-trail);
          blocks.forEach((block, i) => {
            if (!Number.isFinite(block.heard) || block.heard < from) return;
            const x = share(Math.min(to, block.heard)) * width;
            const level =
              up === "out" ? block.heard + (Number.isFinite(block.gain) ? block.gain : 0) : -block.reduction;
            context.beginPath();
            context.arc(x, yOf(range, height, level), i === blocks.length - 1 ? 5 : 2, 0, 2 * Math.PI);
            context.fillStyle = ink.own;
            context.globalAlpha = i === blocks.length - 1 ? 1 : (0.5 * i) / blocks.length;
            context.fill();
          });
          context.globalAlpha = 1;
        }}
      />
      <p className="pointer-events-none absolute top-1.5 left-9 text-[11px] text-quiet">{transfer?.up}</p>
      <p className="pointer-events-none absolute right-2 bottom-4 text-[11px] text-quiet">{transfer?.across}</p>
    </div>
  );
}
