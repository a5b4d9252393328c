import type { Layout } from "./paths";

/** Where the map's own pixels lie on the screen: as wide as there is room, as high as it must be. */
export interface Frame {
  width: number;
  height: number;
  x: (of: number) => number;
  y: (of: number) => number;
  /** Room for names on the left and on the right, px. */
  left: number;
  right: number;
}

const above = 10;
const below = 26;
const leastX = 0.5;
const leastY = 0.86;
const mostX = 1.35;
const mostY = 1.3;

/** Fits a map into a room of that size; what does not fit is scrolled to. */
export function frameOf(map: Pick<Layout, "width" | "height">, room: { width: number; height: number }): Frame {
  const left = room.width < 820 ? 132 : 168;
  const right = room.width < 820 ? 150 : 236;
  const sx = between(leastX, (room.width - left - right) / map.width, mostX);
  const sy = between(leastY, (room.height - above - below) / map.height, mostY);
  return {
    left,
    right,
    width: Math.max(left + right + map.width * sx, Math.min(room.width, left + right + map.width * mostX)),
    height: Math.max(room.height, above + below + map.height * sy),
    x: (of) => left + of * sx,
    y: (of) => above + of * sy,
  };
}

function between(least: number, value: number, most: number): number {
  return Math.min(most, Math.max(least, value));
}

/** A row of corners as a line for SVG. */
export function lineOf(frame: Frame, corners: readonly { x: number; y: number }[]): string {
  return corners.map((c, i) => `${i === 0 ? "M" : "L"}${frame.x(c.x).toFixed(1)} ${frame.y(c.y).toFixed(1)}`).join("");
}
