import { create } from "zustand";
import { useOutputs } from "@/core/audio/outputs";
import { tell } from "@/core/notices/notices";

/** The pad that this window alone hears now, or null. */
export const usePreview = create<{ pad: string | null }>(() => ({ pad: null }));

let playing: HTMLAudioElement | null = null;

/** Lets this window alone hear a pad, or no longer: nobody else hears any of it. */
export function togglePreview(show: string, pad: string) {
  const was = usePreview.getState().pad;
  endPreview();
  if (was === pad) return;
  const sound = new Audio(`/api/shows/${show}/pads/${pad}/preview`);
  playing = sound;
  usePreview.setState({ pad });
  const over = () => playing === sound && endPreview();
  sound.onended = over;
  const { chosen } = useOutputs.getState();
  (chosen === "" ? Promise.resolve() : sound.setSinkId(chosen))
    .then(() => sound.play())
    .catch(() => {
      if (playing !== sound) return;
      over();
      tell("wrong", "This pad cannot be heard here.", "Its sound is gone, or this browser plays nothing now.");
    });
}

export function endPreview() {
  playing?.pause();
  playing?.removeAttribute("src");
  playing = null;
  usePreview.setState({ pad: null });
}
