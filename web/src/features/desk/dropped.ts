import { openLayer } from "@/core/place/place";

let dropped: File | null = null;

/** A file was dropped onto the Desk: it is asked what it is to be called. No address can name it. */
export function addDropped(file: File) {
  dropped = file;
  openLayer("sound");
}

/** The file that was dropped last and has not been asked about, or null. */
export function takeDropped(): File | null {
  return dropped;
}

/** The question is over. */
export function forgetDropped() {
  dropped = null;
}
