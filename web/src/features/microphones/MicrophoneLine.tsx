import { MicOff } from "lucide-react";
import type { Source } from "@/core/api/client";
import { microphoneOf, useMicrophones } from "./server";
import { microphoneWords, useTrouble } from "./trouble";

/** In the list of sources: one line, only where something is wrong. */
export function MicrophoneLine({ source }: { source: Source }) {
  const microphones = useMicrophones();
  const microphone = microphoneOf(microphones.data, source);
  const trouble = useTrouble(source, microphone);
  if (!trouble || trouble.harmless) return null;
  const shared = source.input.type === "browser" && typeof source.input.stillPlays === "boolean";
  return (
    <p className="mt-0.5 flex items-center gap-1 text-[11px] text-wrong" title={trouble.words}>
      <MicOff size={12} className="shrink-0" aria-hidden="true" />
      <span className="truncate">
        {shared ? "not shared" : ((microphone && microphoneWords(microphone)) ?? trouble.words)}
      </span>
    </p>
  );
}
