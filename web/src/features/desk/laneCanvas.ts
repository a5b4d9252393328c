import type { Mix } from "@/core/api/client";
import { SourceMeter } from "@/core/api/generated/live";
import { meters } from "@/core/meters/meters";
import { decibels } from "@/shared/look/format";
import { zoomNow } from "@/shared/look/scale";
import { axisTo, gridValues, share } from "./axis";
import { barOf, type Row } from "./rows";

/** How far the tail of a moving bar reaches back, LU. */
const tail = 9;

const targetTolerance = 1;

export interface LaneColors {
  line: string;
  band: string;
  ink: string;
  quiet: string;
  sources: string[];
}

/** The colours of the theme, read off the page once for each theme. */
export function readColors(): LaneColors {
  const style = getComputedStyle(document.documentElement);
  const get = (name: string) => style.getPropertyValue(name).trim();
  return {
    line: get("--line"),
    band: get("--band"),
    ink: get("--ink"),
    quiet: get("--quiet"),
    sources: Array.from({ length: 12 }, (_, i) => get(`--source-${i}`)),
  };
}

/** Draws what moves in a lane: the grid, the target, each send's momentary loudness, and the mix's own. */
export function drawLane(canvas: HTMLCanvasElement, colors: LaneColors, mix: Mix, rows: readonly Row[]) {
  const context = canvas.getContext("2d");
  if (!context) return;
  const ratio = window.devicePixelRatio * zoomNow();
  const width = canvas.clientWidth;
  const height = canvas.clientHeight;
  if (canvas.width !== Math.round(width * ratio) || canvas.height !== Math.round(height * ratio)) {
    canvas.width = Math.round(width * ratio);
    canvas.height = Math.round(height * ratio);
  }
  context.setTransform(ratio, 0, 0, ratio, 0, 0);
  context.clearRect(0, 0, width, height);
  context.fillStyle = colors.band;
  const bandFrom = share(mix.targetLufs - targetTolerance) * width;
  context.fillRect(bandFrom, 0, share(mix.targetLufs + targetTolerance) * width - bandFrom, height);
  context.fillStyle = colors.line;
  for (const value of gridValues) context.fillRect(Math.round(share(value) * (width - 1)), 0, 1, height);
  drawSends(context, colors, mix, rows, width);
  drawMix(context, colors, mix, width, height);
}

function drawSends(
  context: CanvasRenderingContext2D,
  colors: LaneColors,
  mix: Mix,
  rows: readonly Row[],
  width: number,
) {
  const mixDb = decibels(mix.gain);
  for (const row of rows) {
    const { source } = row;
    const loudness = meters.send(mix.id, source.id) + mixDb;
    if (!(share(loudness) > 0)) continue;
    const tip = share(loudness) * width;
    const from = share(loudness - tail) * width;
    const { top, height } = barOf(row);
    const color = colors.sources[source.look.color] ?? colors.ink;
    const fade = context.createLinearGradient(from, 0, tip, 0);
    fade.addColorStop(0, "transparent");
    fade.addColorStop(1, color);
    context.fillStyle = fade;
    context.fillRect(from, top, tip - from, height);
  }
}

function drawMix(context: CanvasRenderingContext2D, colors: LaneColors, mix: Mix, width: number, height: number) {
  const loudness = meters.mix(mix.id, SourceMeter.shortTerm);
  if (!(share(loudness) > 0)) return;
  const x = share(Math.min(loudness, axisTo)) * width;
  context.fillStyle = colors.ink;
  context.beginPath();
  context.moveTo(x, height - 8);
  context.lineTo(x + 5, height);
  context.lineTo(x - 5, height);
  context.fill();
}
