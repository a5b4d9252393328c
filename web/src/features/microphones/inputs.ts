/** One sound input, as the browser lists it. */
export interface InputChoice {
  device: string;
  label: string;
}

/** All sound inputs that the browser lists; their names only once it gives the microphone. */
export async function listInputs(): Promise<InputChoice[]> {
  const all = await navigator.mediaDevices.enumerateDevices();
  return all
    .filter((d) => d.kind === "audioinput" && d.deviceId !== "")
    .map((d, i) => ({ device: d.deviceId, label: d.label || `Input ${i + 1}` }));
}

/** An input as it is, without what a browser likes to do to a voice; null: any input. */
export function openInput(device: string | null): Promise<MediaStream> {
  return navigator.mediaDevices.getUserMedia({
    audio: {
      ...(device === null ? {} : { deviceId: { exact: device } }),
      echoCancellation: false,
      noiseSuppression: false,
      autoGainControl: false,
      channelCount: { ideal: 8 },
      sampleRate: { ideal: 48000 },
    },
  });
}

/**
 * The sound of a tab or of the whole computer: the person chooses which, each time anew. `stillPlays`: it is still heard where it plays; where a
 * browser cannot keep it from that, it is heard there all the same.
 */
export async function openShared(stillPlays: boolean): Promise<{ stream: MediaStream; label: string }> {
  const stream = await navigator.mediaDevices.getDisplayMedia({
    // Browsers share sound only beside a picture; nobody looks at it.
    video: true,
    audio: {
      echoCancellation: false,
      noiseSuppression: false,
      autoGainControl: false,
      suppressLocalAudioPlayback: !stillPlays,
    } as MediaTrackConstraints,
    systemAudio: "include",
  } as DisplayMediaStreamOptions);
  const label = sharedLabel(
    (stream.getVideoTracks()[0]?.getSettings() as { displaySurface?: string } | undefined)?.displaySurface,
  );
  for (const track of stream.getVideoTracks()) track.stop();
  if (stream.getAudioTracks().length === 0) throw new DOMException("", "NotFoundError");
  return { stream, label };
}

/** What is shared, in words: the browser says what was chosen, not what it is called. */
function sharedLabel(surface: string | undefined): string {
  if (surface === "browser") return "Sound of a tab";
  return surface === "window" ? "Sound of a window" : "Sound of this computer";
}

/** Why an input could not be had. */
export type Refused = "refused" | "absent" | "busy" | "failed";

export function whyNot(error: unknown): Refused {
  const name = error instanceof DOMException ? error.name : "";
  if (name === "NotAllowedError" || name === "SecurityError") return "refused";
  if (name === "NotFoundError" || name === "OverconstrainedError") return "absent";
  if (name === "NotReadableError" || name === "AbortError") return "busy";
  return "failed";
}

/** Whether the browser would give the microphone without asking; "prompt" where it does not say. */
export async function permission(): Promise<PermissionState> {
  try {
    return (await navigator.permissions.query({ name: "microphone" as PermissionName })).state;
  } catch {
    return "prompt";
  }
}
