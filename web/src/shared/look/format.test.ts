import { describe, expect, it } from "vitest";
import { decimal, duration, gainText, parseDelay, parseGain, signed } from "./format";

describe("numbers", () => {
  it("have a proper minus, and never a minus zero", () => {
    expect(decimal(-18.94)).toBe("−18.9");
    expect(decimal(-0.04)).toBe("0.0");
    expect(signed(3)).toBe("+3.0");
    expect(signed(-0.01)).toBe("0.0");
    expect(decimal(Number.NEGATIVE_INFINITY)).toBe("−∞");
    expect(decimal(-359.9)).toBe("−∞");
    expect(decimal(Number.NaN)).toBe("–");
  });

  it("are read however a person writes them", () => {
    for (const text of ["-6.5", "−6.5 dB", " -6,5db", "–6.5"]) expect(parseGain(text)).toBe(-6.5);
    for (const text of ["off", "OFF", "−∞", "-inf"]) expect(parseGain(text)).toBe("off");
    for (const text of ["", "loud", "1 2", "dB"]) expect(parseGain(text)).toBeNull();
  });

  it("written and read again are the same", () => {
    for (let tenths = -600; tenths <= 120; tenths++) expect(parseGain(gainText(tenths / 10))).toBe(tenths / 10);
    expect(parseGain(gainText("off"))).toBe("off");
  });

  it("say durations as clocks do", () => {
    expect(duration(7.9)).toBe("0:07");
    expect(duration(247)).toBe("4:07");
    expect(duration(3753)).toBe("1:02:33");
  });

  it("takes a delay in ms, in metres that sound goes, and in pictures", () => {
    expect(parseDelay("40")).toBe(40);
    expect(parseDelay("12,5 ms")).toBe(12.5);
    expect(parseDelay("12 m")).toBe(35);
    expect(parseDelay("2 frames")).toBe(80);
    for (const wrong of ["", "-1", "2001", "3 km", "1e3"]) expect(parseDelay(wrong)).toBeNull();
  });
});
