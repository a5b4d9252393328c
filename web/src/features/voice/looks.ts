import { useEffect, useRef } from "react";
import { watch } from "@/core/analysis/analysis";
import { analysisHeaderBytes } from "@/core/api/generated/live";
import { repaint } from "@/core/meters/meters";
import type { Stereo } from "./stereo";

/** How often spectra and dynamics are asked for: as often as a screen shows a picture, or half as often. */
const rate = 40;

/** Words need not change more often. */
const stereoRate = 5;

/** A spectrum as it is drawn. */
export interface Spectrum {
  frequencies: Float64Array;
  /** dBFS, as many; empty: nothing is known. */
  decibels: Float32Array;
}

/** The spectrum at a point while somebody looks; read it while drawing, React never sees it. */
export function useSpectrum(point: string | null): Spectrum {
  const spectrum = useRef<Spectrum>({ frequencies: new Float64Array(), decibels: new Float32Array() });
  useEffect(() => {
    const now = spectrum.current;
    now.decibels = new Float32Array();
    if (point === null) return;
    return watch("spectrum", point, rate, {
      layout: (values) => {
        now.frequencies = Float64Array.from((values as { frequencies: number[] }).frequencies);
      },
      values: (data) => {
        now.decibels = new Float32Array(data.slice(analysisHeaderBytes + 8));
        repaint();
      },
      closed: () => {
        now.decibels = new Float32Array();
        repaint();
      },
    });
  }, [point]);
  return spectrum.current;
}

/** How left and right belong together at a point while somebody looks; told when it changes. */
export function useStereo(point: string, told: (now: Stereo) => void) {
  const tell = useRef(told);
  tell.current = told;
  useEffect(
    () =>
      watch("stereo", point, stereoRate, {
        values: (data) => {
          const [correlation = Number.NaN, sides = Number.NaN, left = Number.NaN, right = Number.NaN] =
            new Float32Array(data.slice(analysisHeaderBytes + 8));
          tell.current({ correlation, sides, offset: Math.max(left, right) });
        },
      }),
    [point],
  );
}

/** Floats of a block, as the topic “dynamics” writes them. */
const blockValues = 6;

/** What one processor did in one block. */
export interface Block {
  heard: number;
  reduction: number;
  in: number;
  out: number;
  /** Out over in, dB; not a number where it was silent. */
  gain: number;
  /** As a gate: 0 none, 1 shut, 2 open, 3 holding. */
  gate: number;
}

/** Blocks that are kept: eight seconds. */
export const historyBlocks = 1500;

/** How often a level was heard: bins of 1 dB up to 0 dBFS; what is long ago counts less. */
export const levelBins = 90;
const binMemory = 0.9998;

/** What a processor has done lately. */
export class Dynamics {
  readonly blocks: Block[] = [];
  readonly bins = new Float64Array(levelBins);

  take(data: ArrayBuffer) {
    const values = new Float32Array(data, analysisHeaderBytes + 8);
    for (let at = 0; at + blockValues <= values.length; at += blockValues) {
      const [heard = Number.NaN, reduction = 0, input = 0, out = 0, gain = 0, gate = 0] = values.subarray(
        at,
        at + blockValues,
      );
      this.blocks.push({ heard, reduction, in: input, out, gain, gate });
      for (let i = 0; i < levelBins; i++) this.bins[i] = (this.bins[i] ?? 0) * binMemory;
      const bin = Math.floor(heard) + levelBins;
      if (bin >= 0 && bin < levelBins) this.bins[bin] = (this.bins[bin] ?? 0) + 1;
    }
    this.blocks.splice(0, this.blocks.length - historyBlocks);
  }

  /** Nothing is known any more: the server is away, or the processor. */
  forget() {
    this.blocks.length = 0;
    this.bins.fill(0);
  }

  get last(): Block | undefined {
    return this.blocks.at(-1);
  }
}

/** What a processor does while somebody looks; read it while drawing. */
export function useDynamics(processor: string): Dynamics {
  const dynamics = useRef({ of: processor, now: new Dynamics() });
  if (dynamics.current.of !== processor) dynamics.current = { of: processor, now: new Dynamics() };
  const { now } = dynamics.current;
  useEffect(
    () =>
      watch("dynamics", processor, rate, {
        values: (data) => {
          now.take(data);
          repaint();
        },
        closed: () => {
          now.forget();
          repaint();
        },
      }),
    [processor, now],
  );
  return now;
}
