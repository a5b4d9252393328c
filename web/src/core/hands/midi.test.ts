import { describe, expect, test } from "vitest";
import { gainAt, PickUp, positionFor } from "./faders";
import { bytesOf, controlOf, isControl, type MidiEvent, MidiParser, positionOf } from "./midi";

const read = (...bytes: number[]) => new MidiParser().take(bytes);

describe("bytes of a controller", () => {
  test("are read as MIDI 1.0 says", () => {
    expect(read(0x90, 60, 100)).toEqual([{ kind: "note", channel: 1, number: 60, value: 100 }]);
    expect(read(0x80, 60, 64)).toEqual([{ kind: "note", channel: 1, number: 60, value: 0 }]);
    expect(read(0xbf, 7, 127)).toEqual([{ kind: "control", channel: 16, number: 7, value: 127 }]);
    expect(read(0xe0, 0, 64)).toEqual([{ kind: "bend", channel: 1, value: 8192 }]);
    expect(read(0xc2, 5)).toEqual([{ kind: "program", channel: 3, number: 5 }]);
  });

  test("go on under the status before, and let real time pass between any two", () => {
    expect(read(0x90, 60, 0xf8, 100, 62, 0xfe, 0)).toEqual([
      { kind: "note", channel: 1, number: 60, value: 100 },
      { kind: "note", channel: 1, number: 62, value: 0 },
    ]);
  });

  test("that are system exclusive are passed over, and what follows them is read", () => {
    expect(read(0x90, 60, 0xf0, 1, 2, 3, 0xf7, 5, 6, 0xb0, 1, 2)).toEqual([
      { kind: "control", channel: 1, number: 1, value: 2 },
    ]);
  });

  test("come to the same in pieces of any size", () => {
    const bytes = [0x90, 60, 100, 61, 0xf8, 101, 0xb1, 7, 1, 0xe0, 3, 4, 0xc0, 9];
    const whole = read(...bytes);
    for (let size = 1; size < bytes.length; size++) {
      const parser = new MidiParser();
      const parts: MidiEvent[] = [];
      for (let at = 0; at < bytes.length; at += size) parts.push(...parser.take(bytes.slice(at, at + size)));
      expect(parts).toEqual(whole);
    }
  });

  test("of any kind are events within their ranges, or none", () => {
    let seed = 1;
    const next = () => {
      seed = (seed * 48271) % 2147483647;
      return seed;
    };
    const parser = new MidiParser();
    for (let n = 0; n < 3000; n++) {
      const bytes = Array.from({ length: next() % 20 }, () => (next() % 3 === 0 ? 128 + (next() % 128) : next() % 300));
      for (const event of parser.take(bytes)) {
        expect(isControl(controlOf(event)), controlOf(event)).toBe(true);
        expect(positionOf(event)).toBeGreaterThanOrEqual(0);
        expect(positionOf(event)).toBeLessThanOrEqual(1);
      }
    }
    // And whatever came, what is right is read.
    expect(parser.take([0x90, 1, 2])).toEqual([{ kind: "note", channel: 1, number: 1, value: 2 }]);
  });
});

test("what shows a position on a device is what the device would send there", () => {
  for (const control of ["note/1/60", "control/16/7", "bend/3"])
    for (const position of [0, 0.25, 0.5, 1]) {
      const [event] = new MidiParser().take(bytesOf(control, position));
      expect(event && controlOf(event)).toBe(control);
      expect(event && positionOf(event)).toBeCloseTo(position, 2);
    }
});

test.each(["", "note", "note/0/1", "note/17/1", "note/1/128", "note/1/1/1", "bend/1/2", "fader/1/2", "note/1/-1"])(
  "this is no control: %s",
  (text) => expect(isControl(text)).toBe(false),
);

describe("a fader", () => {
  test("goes up all the way, from off to +12 dB, with 0 dB at three quarters", () => {
    expect([gainAt(0), gainAt(0.75), gainAt(1)]).toEqual([null, 0, 12]);
    for (let i = 2; i <= 127; i++)
      expect(gainAt(i / 127)).toBeGreaterThan(gainAt((i - 1) / 127) ?? Number.NEGATIVE_INFINITY);
    for (let i = 1; i <= 127; i++) expect(positionFor(gainAt(i / 127))).toBeCloseTo(i / 127, 2);
  });

  test("does nothing until it meets the level, and follows from then on", () => {
    const pick = new PickUp();
    expect(pick.move(0.1, 0.5)).toBe(false);
    expect(pick.move(0.3, 0.5)).toBe(false);
    expect(pick.move(0.6, 0.5)).toBe(true);
    expect(pick.move(0.9, 0.6)).toBe(true);
  });

  test("has to meet it again when another hand has moved it", () => {
    const pick = new PickUp();
    expect(pick.move(0.5, 0.5)).toBe(true);
    expect(pick.move(0.6, 0.2)).toBe(false);
    expect(pick.move(0.1, 0.2)).toBe(true);
  });

  test("never lets the level jump by more than it was moved, whatever both do", () => {
    let seed = 7;
    const next = () => {
      seed = (seed * 48271) % 2147483647;
      return seed / 2147483647;
    };
    const pick = new PickUp();
    let [level, position] = [0.5, 0.1];
    for (let n = 0; n < 5000; n++) {
      if (next() < 0.05) level = next();
      const to = Math.min(1, Math.max(0, position + (next() - 0.5) / 10));
      if (pick.move(to, level)) {
        expect(Math.abs(to - level)).toBeLessThanOrEqual(Math.abs(to - position) + 2 / 127 + 1e-9);
        level = to;
      }
      position = to;
    }
  });
});
