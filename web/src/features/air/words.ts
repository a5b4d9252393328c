import type { AirState, AirStream, ServerKind, StreamForm } from "@/core/api/client";
import { decimal, duration } from "@/shared/look/format";

/** How a server lets in who brings sound, as a station's account page tells it. */
export const ways: readonly { kind: ServerKind; words: string; hint: string }[] = [
  {
    kind: "Put",
    words: "Path, user and password",
    hint: "Most servers of today. The path is often called mount point.",
  },
  { kind: "Source", words: "The same, an older server", hint: "Where the first way is refused as not allowed." },
  {
    kind: "FirstLine",
    words: "Port and password only",
    hint: "The oldest way; some have a stream number (SID) too. It goes to the port above the one that is stated.",
  },
];

export const streamForms: readonly { form: StreamForm; words: string; hint: string }[] = [
  { form: "Mp3", words: "MP3", hint: "Every player and every server knows it" },
  { form: "OggOpus", words: "Opus", hint: "Half the data for the same sound; newer players only" },
  { form: "OggVorbis", words: "Vorbis", hint: "Somewhat less data than MP3; not every player" },
  { form: "OggFlac", words: "FLAC", hint: "Nothing is lost; some 800 kbit/s; few players" },
];

export function streamFormWords(form: string): string {
  return streamForms.find((f) => f.form === form)?.words ?? form;
}

/** Where a stream goes, as it is said in a sentence. */
export function placeWords(server: AirStream["server"]): string {
  const path = server.kind === "FirstLine" ? (server.path === "" ? "" : `, stream ${server.path}`) : `, ${server.path}`;
  return `${server.host}, port ${server.port}${path}`;
}

/** A sample rate as a person says it. */
export function rateWords(hertz: number): string {
  return `${hertz % 1000 === 0 ? hertz / 1000 : decimal(hertz / 1000, hertz % 100 === 0 ? 1 : 2)} kHz`;
}

/** A state in two words at most. */
export function stateWords(state: AirState): string {
  const words: Record<AirState, string> = {
    Off: "Off air",
    Connecting: "Connecting",
    OnAir: "On air",
    TooSlow: "On air, too slow",
    Reconnecting: "Lost, connecting",
    Refused: "Refused",
  };
  return words[state];
}

interface Facts {
  since?: string | null;
  seconds: number;
  bytes: number;
  waitingSeconds: number;
  droppedSeconds: number;
  gapCount: number;
  gaps: readonly { seconds?: number | null }[];
}

/** What a stream has done since it was started, in a line; empty: nothing yet. */
export function factsWords(facts: Facts): string {
  if (!facts.since) return "";
  const said = [`${duration(facts.seconds)} sent`, `${decimal(facts.bytes / 1_000_000)} MB`];
  if (facts.gapCount > 0) {
    const last = facts.gaps.at(-1)?.seconds;
    const how = last === null || last === undefined ? "it lasts" : `the last of ${decimal(last)} s`;
    said.push(`${facts.gapCount} ${facts.gapCount === 1 ? "gap" : "gaps"}, ${how}`);
  }
  if (facts.waitingSeconds >= 1) said.push(`${decimal(facts.waitingSeconds)} s wait to be sent`);
  if (facts.droppedSeconds > 0) said.push(`${decimal(facts.droppedSeconds)} s were left out`);
  return said.join(" · ");
}

/** The text as a number of a port, or null. */
export function readPort(text: string): number | null {
  const port = /^\d{1,5}$/.test(text.trim()) ? Number(text) : 0;
  return port >= 1 && port <= 65_535 ? port : null;
}
