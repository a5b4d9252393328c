import type { Address } from "@/core/api/client";
import { decimal } from "@/shared/look/format";

const forms: Record<string, { words: string; hint: string }> = {
  wav: { words: "WAV", hint: "as it is, 24 bit; most to carry" },
  flac: { words: "FLAC", hint: "as it is, 24 bit, in half the room" },
  ogg: { words: "Opus", hint: "256 kbit/s, in Ogg" },
  mp3: { words: "MP3", hint: "256 kbit/s; every program knows it" },
};

/** What is read at a path, in words: by its ending. */
export function formOf(path: string): { words: string; hint: string } {
  const ending = path.split(".").at(-1) ?? "";
  return forms[ending] ?? { words: ending, hint: "" };
}

/** Who reads an address, in a sentence. */
export function readersWords(readers: Address["readers"]): string {
  if (readers.length === 0) return "Nobody reads it now.";
  const lost = readers.reduce((sum, r) => sum + r.lostSeconds, 0);
  const who = readers.length === 1 ? "One program reads it now" : `${readers.length} programs read it now`;
  return lost === 0 ? `${who}.` : `${who}; ${decimal(lost)} s were lost, since they were too slow for it.`;
}

/** Who sends into a cable by its address, in sentences. */
export function senderWords({ sender }: Address): string {
  if (sender === null) return "Nobody sends into it now.";
  if (sender.format === null) return `${sender.name} is there; nothing of it has been understood yet.`;
  const what = `${sender.name} sends ${sender.format}, ${decimal(sender.sampleRate / 1000)} kHz, ${sender.channels === 1 ? "mono" : "stereo"}`;
  const late =
    sender.gaps === 0
      ? "nothing came too late"
      : `it came too late ${sender.gaps === 1 ? "once" : `${sender.gaps} times`}, ${decimal(sender.lostSeconds)} s were silent`;
  return sender.isLate
    ? `${what}: nothing comes now, and the cable is silent; ${late}.`
    : `${what}: ${decimal(sender.waitingSeconds)} s of it wait, ${late}.`;
}
