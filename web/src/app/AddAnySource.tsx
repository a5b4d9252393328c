import type { Show } from "@/core/api/client";
import { SoundForm } from "@/features/desk";
import { AddSource, type OtherSort } from "@/features/gear";
import { MicrophoneForm, ShareSoundForm } from "@/features/microphones";

const others: readonly OtherSort[] = [
  { value: "browser", words: "This browser’s microphone", Form: MicrophoneForm },
  { value: "shared", words: "Sound of a tab or of this computer", Form: ShareSoundForm },
  { value: "file", words: "Sound file", Form: SoundForm },
];

/** One place for everything that can become a source: of the computer, of this browser, and files. */
export function AddAnySource({ show }: { show: Show }) {
  return <AddSource show={show} others={others} />;
}
