import type { Microphone, Source } from "@/core/api/client";
import { browserId } from "@/core/realtime/identity";
import { giveNow, useGiven } from "./microphones";
import { givenWords } from "./words";

interface Trouble {
  words: string;
  /** Its sound is there all the same: another window gives it. */
  harmless: boolean;
  action: (() => void) | null;
  actionWords: string | null;
}

/** What is wrong with a source's microphone, as this window knows it; null: nothing, or it is no microphone. */
export function useTrouble(source: Source, microphone: Microphone | undefined): Trouble | null {
  const { input } = source;
  const own = input.type === "browser" && input.client === browserId;
  const given = useGiven((s) => (own ? s.given[input.device] : undefined));
  if (input.type !== "browser") return null;
  const here = given ? givenWords[given] : null;
  if (here) {
    const { words, action, takeOver } = here;
    return {
      words,
      harmless: microphone?.state === "Live",
      actionWords: action,
      action: action ? () => giveNow(input.device, takeOver) : null,
    };
  }
  const words = microphone?.words;
  return words ? { words, harmless: false, action: null, actionWords: null } : null;
}

const short: Record<Microphone["state"], string | null> = {
  Live: null,
  NotHere: "no window gives it",
  Stalled: "sends nothing",
  OffRate: "another rate than it says",
  Unplugged: "unplugged",
  Refused: "not allowed",
  WindowClosed: "its window is closed",
};

/** Why an input gives nothing now, in two or three words; null: it does. */
export function microphoneWords(microphone: Microphone): string | null {
  return short[microphone.state];
}
