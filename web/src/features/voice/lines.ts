import type { Spectrum } from "./looks";
import { hertzLines, hertzNumbers, hertzText, shareOfHertz, type Upright, yOf } from "./scales";

/** A line through points whose places are given as 0 to 1 across. */
export function trace(
  context: CanvasRenderingContext2D,
  width: number,
  height: number,
  range: Upright,
  across: (i: number) => number,
  values: ArrayLike<number>,
) {
  context.beginPath();
  for (let i = 0; i < values.length; i++) {
    const value = values[i] ?? Number.NaN;
    if (!Number.isFinite(value)) continue;
    context.lineTo(across(i) * width, yOf(range, height, value));
  }
}

/** The lines and numbers of a frequency axis. */
export function frequencyGrid(
  context: CanvasRenderingContext2D,
  width: number,
  height: number,
  { line, quiet }: { line: string; quiet: string },
) {
  context.fillStyle = line;
  for (const hertz of hertzLines) {
    context.globalAlpha = hertzNumbers.includes(hertz) ? 1 : 0.45;
    context.fillRect(Math.round(shareOfHertz(hertz) * width), 0, 1, height);
  }
  context.globalAlpha = 1;
  context.fillStyle = quiet;
  context.textAlign = "center";
  for (const hertz of hertzNumbers) context.fillText(hertzText(hertz), shareOfHertz(hertz) * width, height - 4);
  context.textAlign = "left";
}

/** A spectrum: filled below, or as a line. */
export function drawSpectrum(
  context: CanvasRenderingContext2D,
  width: number,
  height: number,
  range: Upright,
  { frequencies, decibels }: Spectrum,
  color: string,
  filled: boolean,
) {
  if (decibels.length === 0) return;
  trace(context, width, height, range, (i) => shareOfHertz(frequencies[i] ?? 20), decibels);
  if (filled) {
    context.lineTo(width, height + 2);
    context.lineTo(0, height + 2);
    context.closePath();
    context.fillStyle = color;
    context.globalAlpha = 0.22;
    context.fill();
    context.globalAlpha = 1;
  } else {
    context.strokeStyle = color;
    context.lineWidth = 1.5;
    context.stroke();
  }
}

/** Horizontal lines with their numbers, at one side. */
export function levelGrid(
  context: CanvasRenderingContext2D,
  width: number,
  height: number,
  range: Upright,
  values: readonly number[],
  { line, quiet, halo }: { line: string; quiet: string; halo: string },
  text: (value: number) => string,
  side: "left" | "right" = "left",
) {
  for (const value of values) {
    const y = yOf(range, height, value);
    context.fillStyle = line;
    context.fillRect(0, Math.round(y), width, 1);
    context.textAlign = side;
    // Over whatever is drawn there.
    context.lineWidth = 3;
    context.strokeStyle = halo;
    context.strokeText(text(value), side === "left" ? 4 : width - 4, y < 12 ? y + 12 : y - 3);
    context.fillStyle = quiet;
    context.fillText(text(value), side === "left" ? 4 : width - 4, y < 12 ? y + 12 : y - 3);
  }
  context.textAlign = "left";
}
