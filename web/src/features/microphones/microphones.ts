import { create } from "zustand";
import type { Show } from "@/core/api/client";
import type { Capture, Ended } from "@/core/audio/capture";
import { OutputGraph } from "@/core/audio/graph";
import { tellServer } from "@/core/realtime/hub";
import { browserId } from "@/core/realtime/identity";
import { listInputs, openInput, openShared, permission, whyNot } from "./inputs";

/** How an input stands that this browser is to give. */
export type Given =
  | "starting"
  | "joined"
  | "away"
  | "held"
  | "taken"
  | "ask"
  | "refused"
  | "absent"
  | "busy"
  | "failed"
  | "asleep"
  | "unshared";

interface GivenState {
  /** By the browser's id of the input. */
  given: Record<string, Given>;
}

/** The inputs that this window gives to the show, or ought to. */
export const useGiven = create<GivenState>(() => ({ given: {} }));

interface Running {
  stop: (because: Ended) => void;
  /** Of shared sound: whether it is still heard where it plays, from now on. */
  keepPlaying?: (still: boolean) => void;
}

const running = new Map<string, Running>();

// By the browser's id of the input: of shared sound, whether it still plays where it played; of any other, null.
let wanted = new Map<string, boolean | null>();

// Shared sound that a person has just chosen: it is not asked for again.
const handed = new Map<string, MediaStream>();

function set(device: string, state: Given | null) {
  useGiven.setState(({ given }) => {
    const { [device]: _, ...rest } = given;
    return { given: state === null ? rest : { ...rest, [device]: state } };
  });
}

/** Gives all inputs of this browser that the show has, and no others. Called whenever the show changes. */
export function tendMicrophones(show: Show) {
  const devices = new Map<string, boolean | null>();
  for (const { input } of show.sources) {
    if (input.type === "browser" && input.client === browserId) devices.set(input.device, input.stillPlays ?? null);
  }
  const gone = [...wanted.keys()].filter((d) => !devices.has(d));
  const added = [...devices.keys()].filter((d) => !wanted.has(d));
  for (const [device, stillPlays] of devices) {
    if (typeof stillPlays === "boolean" && wanted.has(device) && wanted.get(device) !== stillPlays)
      running.get(device)?.keepPlaying?.(stillPlays);
  }
  wanted = devices;
  for (const device of gone) {
    running.get(device)?.stop("WindowClosed");
    set(device, null);
  }
  for (const device of added) void begin(device);
}

const isShared = (device: string) => typeof wanted.get(device) === "boolean";

async function begin(device: string) {
  if (isShared(device) && !handed.has(device)) {
    set(device, "unshared");
    return;
  }
  const state = await permission();
  if (state === "prompt" && !pressed.has(device)) set(device, "ask");
  else await give(device, false);
}

// Inputs that were asked for by a press: the browser may ask the person without surprise.
const pressed = new Set<string>();

/** By a press: the browser may ask; with `takeOver`, another window that gives it loses it. */
export function giveNow(device: string, takeOver = false) {
  pressed.add(device);
  void give(device, takeOver);
}

/** Shared sound that a person has just chosen, for the input of that name. */
export function handOver(device: string, stream: MediaStream) {
  handed.set(device, stream);
}

/** The browser has just been asked for this input, so nothing surprises when it is opened again. */
export function expectInput(device: string) {
  pressed.add(device);
}

async function give(device: string, takeOver: boolean) {
  if (running.has(device) || !wanted.has(device)) return;
  set(device, "starting");
  let stream: MediaStream | null = null;
  const stop: Running["stop"] = () => {
    running.delete(device);
    for (const track of stream?.getTracks() ?? []) track.stop();
  };
  running.set(device, { stop });
  try {
    const stillPlays = wanted.get(device) ?? null;
    stream =
      handed.get(device) ?? (stillPlays === null ? await openInput(device) : (await openShared(stillPlays)).stream);
    handed.delete(device);
    const graph = await OutputGraph.of();
    if (!running.has(device) || !wanted.has(device)) return stop("WindowClosed");
    graph.wake();
    send(device, graph.capture(stream), takeOver);
  } catch (error) {
    stop("WindowClosed");
    if (isShared(device)) {
      set(device, "unshared");
      return;
    }
    const reason = whyNot(error);
    set(device, reason);
    tellServer("MicrophoneAbsent", browserId, device, reason === "refused" ? "Refused" : "Unplugged");
  }
}

function send(device: string, capture: Capture, takeOver: boolean) {
  const { context } = capture;
  const stop: Running["stop"] = (because) => {
    running.delete(device);
    context.removeEventListener("statechange", sleeping);
    capture.stop(because);
  };
  const sleeping = () => {
    if (context.state === "suspended") set(device, "asleep");
    else if (useGiven.getState().given[device] === "asleep") set(device, "joined");
  };
  const keepPlaying = (still: boolean) => {
    const wish = { suppressLocalAudioPlayback: !still } as MediaTrackConstraints;
    // A browser that cannot do it now does it when the sound is shared next.
    for (const track of capture.stream.getAudioTracks()) void track.applyConstraints(wish).catch(() => undefined);
  };
  running.set(device, { stop, keepPlaying });
  context.addEventListener("statechange", sleeping);
  capture.onEnded = async () => {
    if (isShared(device)) {
      stop("Unplugged");
      set(device, "unshared");
      return;
    }
    // A window that closes ends its tracks too: only a device that is no longer listed was pulled out.
    const listed = (await listInputs()).some((i) => i.device === device);
    if (running.get(device)?.stop !== stop) return;
    stop(listed ? "WindowClosed" : "Unplugged");
    set(device, listed ? "starting" : "absent");
    if (listed) void give(device, false);
  };
  capture.send(device, takeOver, (kind) => {
    if (running.get(device)?.stop !== stop) return;
    if (kind === "held" || kind === "taken" || kind === "unknown") {
      stop("WindowClosed");
      set(device, kind === "unknown" ? null : kind);
    } else {
      set(device, kind === "joined" && context.state === "suspended" ? "asleep" : kind);
    }
  });
}

/** Inputs that are listed again rejoin by themselves. */
async function whenListed() {
  const listed = new Set((await listInputs()).map((i) => i.device));
  const { given } = useGiven.getState();
  for (const device of wanted.keys()) {
    if ((given[device] === "absent" || given[device] === "busy") && listed.has(device)) void give(device, false);
  }
}

/** Watches for inputs that are plugged in, and for the browser's permission. */
export function watchInputs() {
  if (!navigator.mediaDevices) return;
  navigator.mediaDevices.addEventListener("devicechange", () => void whenListed());
  navigator.permissions
    ?.query({ name: "microphone" as PermissionName })
    .then((status) => {
      status.onchange = () => {
        if (status.state !== "granted") return;
        const { given } = useGiven.getState();
        for (const device of wanted.keys()) {
          if (given[device] === "refused" || given[device] === "ask") void give(device, false);
        }
      };
    })
    .catch(() => undefined);
}
