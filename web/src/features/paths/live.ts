import { type RefObject, useEffect } from "react";
import type { Show } from "@/core/api/client";
import { SourceMeter } from "@/core/api/generated/live";
import { meters, onPaint } from "@/core/meters/meters";
import { decibels } from "@/shared/look/format";
import type { Layout } from "./paths";

const silent = 1.1;
const loud = 4.2;
const from = -54;
const to = -12;

/** How thick a track is drawn where that loud a sound goes along it, px. */
export function weightOf(lufs: number): number {
  const share = (lufs - from) / (to - from);
  return Number.isFinite(share) ? silent + (loud - silent) * Math.min(1, Math.max(0, share)) : silent;
}

/** Lets the tracks be as thick as the sound is loud that goes along them now. Each carries `data-start`, and `data-mix` where it is a mix's. */
export function useLive(svg: RefObject<SVGSVGElement | null>, map: Layout, show: Show) {
  useEffect(() => {
    const lines = [...(svg.current?.querySelectorAll<SVGPathElement>("[data-live]") ?? [])].map((line) => {
      const source = map.diagram.starts[Number(line.dataset.start)]?.source;
      const mix = show.mixes.find((m) => m.id === map.diagram.mixes[Number(line.dataset.mix)]?.id);
      return { line, source, mix, gain: mix ? decibels(mix.gain) : 0, shown: 0 };
    });
    return onPaint(() => {
      for (const one of lines) {
        if (!one.source) continue;
        const level = one.mix
          ? meters.send(one.mix.id, one.source) + one.gain
          : meters.source(one.source, SourceMeter.momentary);
        const weight = weightOf(level);
        if (Math.abs(weight - one.shown) < 0.15) continue;
        one.shown = weight;
        one.line.style.strokeWidth = weight.toFixed(1);
      }
    });
  }, [svg, map, show.mixes]);
}
