import { type RefObject, useEffect } from "react";
import type { Show } from "@/core/api/client";
import { SourceMeter } from "@/core/api/generated/live";
import { meters, onPaint } from "@/core/meters/meters";
import { decibels } from "@/shared/look/format";
import { levelsOf } from "./levels";
import type { Layout } from "./paths";

const silent = 1.1;
const loud = 4.2;

/** From where to where a track grows: loudness, LUFS, where a source or a send has it; else the highest sample, dBFS. */
export const ranges = { loudness: [-54, -12], peak: [-44, 0] } as const;

/** How fast a highest sample falls, dB a second: so that it can be seen. */
const fall = 24;

/** How thick a track is drawn where that loud a sound goes along it, px. */
export function weightOf(level: number, [from, to]: readonly [number, number] = ranges.loudness): number {
  const share = (level - from) / (to - from);
  return Number.isFinite(share) ? silent + (loud - silent) * Math.min(1, Math.max(0, share)) : silent;
}

/** What goes along a track now, and its gain from there on; read from what the engine has measured at that very place. */
interface Reading {
  range: readonly [number, number];
  read: () => number;
}

function readingOf(map: Layout, show: Show, key: string): Reading | null {
  const { mix: id, source, point, gain } = levelsOf(map, key) ?? {};
  const mix = show.mixes.find((m) => m.id === id);
  const more = 20 * Math.log10(gain ?? 1);
  if (mix && source)
    return { range: ranges.loudness, read: () => meters.send(mix.id, source) + decibels(mix.gain) + more };
  if (source && point === undefined)
    return { range: ranges.loudness, read: () => meters.source(source, SourceMeter.momentary) + more };
  if (point === undefined) return null;
  const [bus = "", channel] = point.split("#");
  return {
    range: ranges.peak,
    read: () => meters.bus(bus, channel === undefined ? undefined : Number(channel)) + more,
  };
}

/** Lets the tracks be as thick as the sound is loud that goes along them now. Each carries in `data-live` which it is. */
export function useLive(svg: RefObject<SVGSVGElement | null>, map: Layout, show: Show) {
  useEffect(() => {
    const lines = [...(svg.current?.querySelectorAll<SVGPathElement>("[data-live]") ?? [])].flatMap((line) => {
      const reading = readingOf(map, show, line.dataset.live ?? "");
      return reading ? [{ line, ...reading, level: Number.NEGATIVE_INFINITY, weight: 0 }] : [];
    });
    let before = performance.now();
    return onPaint((now) => {
      const fallen = ((now - before) / 1000) * fall;
      before = now;
      for (const one of lines) {
        const level = one.read();
        one.level = one.range === ranges.peak ? Math.max(level, one.level - fallen) : level;
        const weight = weightOf(one.level, one.range);
        if (Math.abs(weight - one.weight) < 0.15) continue;
        one.weight = weight;
        one.line.style.strokeWidth = weight.toFixed(1);
      }
    });
  }, [svg, map, show]);
}
