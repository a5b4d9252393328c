import { describe, expect, it } from "vitest";
import { ProcessorMeter, SourceMeter } from "@/core/api/generated/live";
import { MeterReading, readMeterFrame } from "./meterFrame";

// As the server writes it: number and layout of the look, the header of levels, the values.
const [sourceValues, mixValues, processorValues] = [8, 12, 3];

function message(values: number[], flags = 0): ArrayBuffer {
  const buffer = new ArrayBuffer(40 + values.length * 4);
  const view = new DataView(buffer, 8);
  view.setFloat64(0, 96000, true);
  view.setFloat32(8, 0.25, true);
  view.setUint32(12, 7, true);
  view.setUint32(16, flags, true);
  view.setFloat64(24, 1.5, true);
  new Float32Array(buffer, 40).set(values);
  return buffer;
}

describe("meter frames", () => {
  it("are read as they were written", () => {
    const frame = readMeterFrame(message([-1, -2], 3));
    expect(frame).toMatchObject({ frame: 96000, load: 0.25, lateBlocks: 7, hushed: true, recording: true });
    expect(frame?.recordedSeconds).toBe(1.5);
    expect([...(frame?.values ?? [])]).toEqual([-1, -2]);
    expect(readMeterFrame(new ArrayBuffer(8))).toBeNull();
    expect(readMeterFrame(new ArrayBuffer(41))).toBeNull();
  });

  it("are found by what they belong to", () => {
    const reading = new MeterReading();
    reading.setLayout({
      sources: ["a", "b"],
      mixes: ["m", "n"],
      processors: ["p", "q"],
      buses: [
        { point: "cable/c", channels: 1 },
        { point: "app/a/out", channels: 2 },
      ],
    });
    const length = 2 * sourceValues + 2 * mixValues + 4 + 2 * processorValues + 3;
    reading.setFrame(readMeterFrame(message(Array.from({ length }, (_, i) => -i))));
    expect(reading.source("b", SourceMeter.momentary)).toBe(-(sourceValues + 3));
    expect(reading.mix("n", SourceMeter.shortTerm)).toBe(-(2 * sourceValues + mixValues + 4));
    expect(reading.send("n", "a")).toBe(-(2 * sourceValues + 2 * mixValues + 2));
    expect(reading.processor("q", ProcessorMeter.latency)).toBe(-(length - 5));
    expect(reading.bus("app/a/out", 1)).toBe(-(length - 1));
    expect(reading.bus("app/a/out")).toBe(-(length - 2));
    expect(reading.bus("app/a/out", 2)).toBe(Number.NEGATIVE_INFINITY);
    expect(reading.bus("app/z/out")).toBe(Number.NEGATIVE_INFINITY);
    expect(reading.processor("z", ProcessorMeter.reduction)).toBe(Number.NEGATIVE_INFINITY);
  });

  it("that stop keep the last reference loudness, and nothing else", () => {
    const reading = new MeterReading();
    reading.setLayout({ sources: ["a"], mixes: [], processors: [], buses: [] });
    expect(reading.reference("a")).toBe(Number.NEGATIVE_INFINITY);
    reading.setFrame(readMeterFrame(message([-1, -1, -1, -1, -1, -23, 0, 0])));
    expect(reading.reference("a")).toBe(-23);
    reading.setFrame(null);
    expect(reading.reference("a")).toBe(-23);
    expect(reading.source("a", SourceMeter.momentary)).toBe(Number.NEGATIVE_INFINITY);
  });

  it("of another layout, or of something unknown, are nothing and never a wrong number", () => {
    const reading = new MeterReading();
    expect(reading.source("a", SourceMeter.peak)).toBe(Number.NEGATIVE_INFINITY);
    reading.setLayout({ sources: ["a"], mixes: [], processors: [], buses: [] });
    reading.setFrame(readMeterFrame(message([-5, -5, -5, -5, -5, -5, 0])));
    expect(reading.source("a", SourceMeter.peak)).toBe(Number.NEGATIVE_INFINITY);
    reading.setFrame(readMeterFrame(message([-5, -5, -5, -5, -5, -5, 0, 0])));
    expect(reading.source("a", SourceMeter.peak)).toBe(-5);
    expect(reading.source("z", SourceMeter.peak)).toBe(Number.NEGATIVE_INFINITY);
  });
});
