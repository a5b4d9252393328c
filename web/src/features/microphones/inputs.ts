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
