import type { EndChoice, Gear, GearApp, GearPort, GearRole } from "@/core/api/client";

/** One thing that a port can be set to. */
export interface EndOption {
  choice: EndChoice;
  words: string;
  group: string;
  /** Why it cannot be chosen now. */
  why?: string;
  /** True: the program is started anew for it. */
  restart?: boolean;
}

/** Channels as people count them, from 1: "3 and 4". */
export function channelWords(left: number, right: number | null | undefined): string {
  return right === null || right === undefined ? `${left + 1}` : `${left + 1} and ${right + 1}`;
}

/** The default that a choice follows, by what it is called. */
export function defaultName(gear: Gear, side: "In" | "Out", calls: boolean): string {
  const role: GearRole["role"] =
    side === "Out" ? (calls ? "CallsPlayback" : "Playback") : calls ? "CallsRecording" : "Recording";
  return gear.roles.find((r) => r.role === role)?.name ?? "nothing";
}

/** A choice in words, as it stands in a sentence. */
export function choiceWords(gear: Gear, side: "In" | "Out", choice: EndChoice): string {
  if (choice.type === "default") {
    const name = defaultName(gear, side, choice.calls);
    return `the default${choice.calls ? " for calls" : ""}: ${name}`;
  }
  if (choice.type === "end") {
    const name = gear.ends.find((e) => e.end === choice.end)?.name ?? "something that is gone";
    return choice.channels ? `${name}, ${channelWords(choice.channels.left, choice.channels.right)}` : name;
  }
  return "nothing";
}

/** Everything that a port of a program can be set to, as a person looks for it: nothing and the defaults, cables, devices. */
export function endOptions(gear: Gear, app: GearApp, port: GearPort): EndOption[] {
  const ends = gear.ends.filter((e) => (port.side === "Out" ? e.plays : e.sounds));
  const follow = "As the computer says";
  return [
    ...[false, true].map((calls) => ({
      choice: { type: "default" as const, calls },
      words: choiceWords(gear, port.side, { type: "default", calls }),
      group: follow,
    })),
    { choice: { type: "nothing" as const }, words: "nothing", group: follow },
    ...[true, false].flatMap((cables) =>
      ends
        .filter((e) => e.end.startsWith("cable/") === cables)
        .flatMap((e) => {
          const unseen = app.unseen.includes(e.end);
          return channelsFor(e.channels, port).map((channels) => ({
            choice: { type: "end" as const, end: e.end, ...(channels ? { channels } : {}) },
            words: endWords(port.side === "Out" ? e.into : e.outOf, channels),
            group: cables ? "Cables" : "Devices",
            why: e.why ?? undefined,
            restart: unseen,
          }));
        }),
    ),
  ];
}

const endWords = (name: string, channels: null | { left: number; right: number | null }) =>
  channels ? `${name}, ${channelWords(channels.left, channels.right)}` : name;

// An end with as many channels as the port is taken whole; of a wider one a pair, or a channel, or all where there is room for them.
function channelsFor(channels: number, port: GearPort): (null | { left: number; right: number | null })[] {
  if (channels <= Math.max(2, port.channels) && !(port.side === "In" && port.channels === 1 && channels > 1))
    return [null];
  const pairs = Array.from({ length: Math.floor(channels / 2) }, (_, i) => ({ left: 2 * i, right: 2 * i + 1 }));
  const singles = Array.from({ length: channels }, (_, i) => ({ left: i, right: null }));
  if (port.channels === 1) return channels === 2 ? [null, ...singles] : singles;
  return port.channels > 2 ? [null, ...pairs] : pairs;
}

/** True where two choices say the same. */
export function sameChoice(one: EndChoice, other: EndChoice): boolean {
  if (one.type === "end" && other.type === "end")
    return (
      one.end === other.end &&
      (one.channels?.left ?? -1) === (other.channels?.left ?? -1) &&
      (one.channels?.right ?? -1) === (other.channels?.right ?? -1)
    );
  if (one.type === "default" && other.type === "default") return (one.calls ?? false) === (other.calls ?? false);
  return one.type === other.type;
}
