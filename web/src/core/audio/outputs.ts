import { create } from "zustand";
import { tell } from "@/core/notices/notices";
import { OutputGraph } from "./graph";

/** A sound output that this browser lets the page choose. */
export interface Output {
  device: string;
  label: string;
}

interface OutputState {
  /** Null: this browser plays where the system says, and nothing can be chosen. */
  outputs: Output[] | null;
  /** "": where the system says. */
  chosen: string;
}

const key = "kinetra.output";
const canChoose = "setSinkId" in AudioContext.prototype;

export const useOutputs = create<OutputState>(() => ({ outputs: canChoose ? [] : null, chosen: "" }));

/** Asks the browser which outputs there are; their names only once it gives the microphone. */
export async function findOutputs() {
  if (!canChoose || !navigator.mediaDevices) return;
  const all = await navigator.mediaDevices.enumerateDevices();
  const outputs = all
    .filter((d) => d.kind === "audiooutput" && d.deviceId !== "" && d.deviceId !== "default")
    .map((d, i) => ({ device: d.deviceId, label: d.label || `Output ${i + 1}` }));
  useOutputs.setState({ outputs });
  const { chosen } = useOutputs.getState();
  if (chosen !== "" && !outputs.some((o) => o.device === chosen)) {
    await choose("", false);
    tell("wrong", "The chosen output is gone.", "This window plays where the system says, until it is chosen again.");
  }
}

/** Plays what this window listens to on that output; "" where the system says. Kept for the next time. */
export async function chooseOutput(device: string) {
  try {
    await choose(device, true);
  } catch (error) {
    tell("wrong", "This output cannot be used.", String(error));
  }
}

async function choose(device: string, keep: boolean) {
  // Made before it is said to be chosen: a browser that cannot play there says so now, and what plays goes on.
  await OutputGraph.of(device);
  useOutputs.setState({ chosen: device });
  if (keep) localStorage.setItem(key, device);
}

/** The output that was chosen last time, where it is there. Call it once listening begins. */
export async function restoreOutput() {
  await findOutputs();
  const kept = localStorage.getItem(key);
  if (kept && useOutputs.getState().outputs?.some((o) => o.device === kept))
    await choose(kept, false).catch(() => undefined);
}

if (canChoose) navigator.mediaDevices?.addEventListener("devicechange", () => void findOutputs());
