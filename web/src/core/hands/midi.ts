/** What a controller tells (MIDI 1.0, channel voice messages). Channels count from 1. */
export type MidiEvent =
  | { kind: "note"; channel: number; number: number; value: number }
  | { kind: "control"; channel: number; number: number; value: number }
  /** 0 to 16383. */
  | { kind: "bend"; channel: number; value: number }
  | { kind: "program"; channel: number; number: number };

/** How many data bytes follow a status byte of channel messages. */
const lengths: Readonly<Record<number, number>> = { 8: 2, 9: 2, 10: 2, 11: 2, 12: 1, 13: 1, 14: 2 };

/**
 * Reads the bytes of one input as they come, in pieces of any size: running status, real-time bytes in the midst of others, system exclusive that is passed over.
 * Whatever comes, what is no message is left out, and the next status byte begins anew.
 */
export class MidiParser {
  private status = 0;
  private data: number[] = [];

  take(bytes: Iterable<number>): MidiEvent[] {
    const events: MidiEvent[] = [];
    for (const byte of bytes) {
      if (!Number.isInteger(byte) || byte < 0 || byte > 255) {
        this.status = 0;
        continue;
      }
      // Real time: between any two bytes, and ends nothing.
      if (byte >= 0xf8) continue;
      if (byte >= 0x80) {
        // System common and exclusive end what was running; their data are passed over.
        this.status = byte < 0xf0 ? byte : 0;
        this.data = [];
        continue;
      }
      if (this.status === 0) continue;
      this.data.push(byte);
      if (this.data.length < (lengths[this.status >> 4] ?? 2)) continue;
      const event = eventOf(this.status, this.data);
      this.data = [];
      if (event) events.push(event);
    }
    return events;
  }
}

function eventOf(status: number, [first = 0, second = 0]: number[]): MidiEvent | null {
  const channel = (status & 15) + 1;
  switch (status >> 4) {
    case 8:
      return { kind: "note", channel, number: first, value: 0 };
    case 9:
      return { kind: "note", channel, number: first, value: second };
    case 11:
      // From 120 on they are modes of the device, and no controls.
      return first < 120 ? { kind: "control", channel, number: first, value: second } : null;
    case 12:
      return { kind: "program", channel, number: first };
    case 14:
      return { kind: "bend", channel, value: first | (second << 7) };
    default:
      return null;
  }
}

/** A control of a device, as text: `note/1/60`, `control/1/7`, `bend/1`, `program/1/3`. */
export function controlOf(event: MidiEvent): string {
  return event.kind === "bend" ? `bend/${event.channel}` : `${event.kind}/${event.channel}/${event.number}`;
}

/** Whether a text is a control. */
export function isControl(text: string): boolean {
  const [kind, channel, number, more] = text.split("/");
  const within = (value: string | undefined, from: number, to: number) =>
    value !== undefined && /^\d{1,3}$/.test(value) && Number(value) >= from && Number(value) <= to;
  if (!within(channel, 1, 16) || more !== undefined) return false;
  return kind === "bend"
    ? number === undefined
    : ["note", "control", "program"].includes(kind ?? "") && within(number, 0, 127);
}

/** A control, in words. */
export function controlWords(control: string): string {
  const [kind, channel, number] = control.split("/");
  const on = channel === "1" ? "" : `, channel ${channel}`;
  if (kind === "bend") return `pitch bend${on}`;
  return `${kind === "control" ? "controller" : kind} ${number}${on}`;
}

/** Where a control stands, 0 to 1. */
export function positionOf(event: MidiEvent): number {
  return event.kind === "program" ? 1 : event.value / (event.kind === "bend" ? 16383 : 127);
}

/** The bytes that show a position on a device: a light, the place of a motor. */
export function bytesOf(control: string, position: number): number[] {
  const [kind, channel, number] = control.split("/");
  const low = Number(channel) - 1;
  const value = Math.round(Math.min(1, Math.max(0, position)) * 127);
  if (kind === "note") return [0x90 | low, Number(number), value];
  if (kind === "control") return [0xb0 | low, Number(number), value];
  if (kind === "bend") {
    const fine = Math.round(Math.min(1, Math.max(0, position)) * 16383);
    return [0xe0 | low, fine & 127, fine >> 7];
  }
  return [];
}
