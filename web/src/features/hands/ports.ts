import { create } from "zustand";
import { type MidiEvent, MidiParser } from "@/core/hands/midi";

interface Ports {
  /** `elsewhere`: another window of this browser has them. `refused`: the browser does not give them. */
  state: "off" | "asking" | "in use" | "elsewhere" | "refused" | "missing";
  inputs: readonly string[];
}

/** How this window stands with the controllers of its browser: one window at a time has them, by lease. */
export const usePorts = create<Ports>(() => ({ state: "off", inputs: [] }));

type Hear = (device: string, event: MidiEvent) => void;
const hearers = new Set<Hear>();
const lease = "kinetra controllers";

let access: MIDIAccess | null = null;
let giveBack: (() => void) | null = null;

/** Hears every control that moves, until that is taken back. */
export function onControl(hear: Hear): () => void {
  hearers.add(hear);
  return () => hearers.delete(hear);
}

/** Takes the controllers for this window. @param over Also where another window has them. */
export async function openPorts(over = false) {
  if (!("requestMIDIAccess" in navigator)) return usePorts.setState({ state: "missing" });
  if (usePorts.getState().state === "in use" || usePorts.getState().state === "asking") return;
  usePorts.setState({ state: "asking" });
  const held = new Promise<void>((back) => {
    giveBack = back;
  });
  void navigator.locks
    .request(lease, over ? { steal: true } : { ifAvailable: true }, async (lock) => {
      if (!lock) {
        usePorts.setState({ state: "elsewhere" });
        return;
      }
      try {
        access = await navigator.requestMIDIAccess();
      } catch {
        usePorts.setState({ state: "refused" });
        return;
      }
      access.onstatechange = listen;
      listen();
      await held;
    })
    // Another window has taken it.
    .catch(() => {
      closeAll();
      usePorts.setState({ state: "elsewhere", inputs: [] });
    });
}

/** Gives the controllers back. */
export function closePorts() {
  closeAll();
  usePorts.setState({ state: "off", inputs: [] });
}

/** Sends bytes to a device, where it takes any. */
export function sendTo(device: string, bytes: number[]) {
  if (bytes.length === 0 || !access) return;
  for (const output of access.outputs.values()) {
    if (output.name !== device || output.state !== "connected") continue;
    try {
      output.send(bytes);
    } catch {
      // It was just pulled out.
    }
  }
}

function listen() {
  if (!access) return;
  for (const input of access.inputs.values()) {
    if (input.onmidimessage) continue;
    const parser = new MidiParser();
    const device = input.name ?? "A controller";
    input.onmidimessage = ({ data }) => {
      for (const event of parser.take(data ?? [])) for (const hear of hearers) hear(device, event);
    };
  }
  const inputs = [...access.inputs.values()]
    .filter((i) => i.state === "connected")
    .map((i) => i.name ?? "A controller");
  usePorts.setState({ state: "in use", inputs });
}

function closeAll() {
  for (const input of access?.inputs.values() ?? []) input.onmidimessage = null;
  if (access) access.onstatechange = null;
  access = null;
  giveBack?.();
  giveBack = null;
}
