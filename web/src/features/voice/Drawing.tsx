import { useEffect, useRef } from "react";
import { onPaint } from "@/core/meters/meters";
import { zoomNow } from "@/shared/look/scale";
import { onThemeChange } from "@/shared/look/theme";

/** What a picture is drawn with. */
export interface Ink {
  line: string;
  band: string;
  ink: string;
  quiet: string;
  strong: string;
  lamp: string;
  wrong: string;
  /** The ground that it stands on. */
  halo: string;
  /** Of the source that it is about. */
  own: string;
}

/** Draws into a context whose unit is a CSS pixel. */
export type Draw = (context: CanvasRenderingContext2D, width: number, height: number, ink: Ink) => void;

interface Props {
  /** What it shows, for those who cannot see it. */
  label: string;
  /** The colour of the source, a CSS colour or variable. */
  color: string;
  draw: Draw;
  className?: string;
}

/** A picture that is drawn anew whenever something new has come. */
export function Drawing({ label, color, draw, className = "" }: Props) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const latest = useRef(draw);
  latest.current = draw;
  useEffect(() => {
    let ink = read(color);
    const stopTheme = onThemeChange(() => {
      ink = read(color);
    });
    const stopPaint = onPaint(() => {
      const of = canvas.current;
      const context = of?.getContext("2d");
      if (!of || !context || of.clientWidth === 0) return;
      const ratio = window.devicePixelRatio * zoomNow();
      const [width, height] = [of.clientWidth, of.clientHeight];
      if (of.width !== Math.round(width * ratio) || of.height !== Math.round(height * ratio)) {
        of.width = Math.round(width * ratio);
        of.height = Math.round(height * ratio);
      }
      context.setTransform(ratio, 0, 0, ratio, 0, 0);
      context.clearRect(0, 0, width, height);
      context.font = "11px 'Archivo Variable', sans-serif";
      latest.current(context, width, height, ink);
    });
    return () => {
      stopTheme();
      stopPaint();
    };
  }, [color]);
  return <canvas ref={canvas} role="img" aria-label={label} className={`block h-full w-full ${className}`} />;
}

function read(color: string): Ink {
  const style = getComputedStyle(document.documentElement);
  const get = (name: string) => style.getPropertyValue(name).trim();
  const variable = /^var\((--[\w-]+)\)$/.exec(color)?.[1];
  return {
    line: get("--line"),
    band: get("--band"),
    ink: get("--ink"),
    quiet: get("--quiet"),
    strong: get("--strong"),
    lamp: get("--lamp"),
    wrong: get("--wrong"),
    halo: get("--surface"),
    own: variable ? get(variable) : color,
  };
}
