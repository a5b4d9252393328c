import { create } from "zustand";
import type { components } from "@/core/api/generated/schema";

export type Look = components["schemas"]["SourceLook"];
export type Gain = components["schemas"]["Gain"];

/** What this device may see of the show. It comes from the server's Board. */
export interface BoardState {
  show: string;
  rights: { pads: boolean; cues: boolean; hush: boolean; record: boolean };
  hushed: boolean;
  recording: boolean;
  set: string | null;
  sets: { id: string; name: string }[];
  pads: {
    id: string;
    name: string;
    look: Look;
    play: string;
    sound: string;
    begin: number;
    end: number;
    silent: string | null;
  }[];
  voices: { id: string; name: string; look: Look }[];
  talkTo: { id: string; name: string }[];
  next: string | null;
  cuesHeld: boolean;
  lanes: {
    id: string;
    name: string;
    sends: { id: string; name: string; look: Look; gain: Gain; muted: boolean; heard: boolean }[];
  }[];
  holds: string[];
}

interface Second {
  /** `out`: the passphrase is wanted; `away`: the server does not answer, and is tried again. */
  state: "connecting" | "out" | "in" | "away";
  board: BoardState | null;
  /** How far each pad has come that sounds, 0 to 1. */
  sounds: Readonly<Record<string, number>>;
  /** What was refused last. */
  wrong: string | null;
}

export const useSecond = create<Second>(() => ({ state: "connecting", board: null, sounds: {}, wrong: null }));

const retryAfter = 1000;
let socket: WebSocket | null = null;
let timer: ReturnType<typeof setTimeout> | undefined;

/** Connects with the server, for as long as this page is open. */
export async function connect() {
  clearTimeout(timer);
  // A refused socket does not say why: so it is asked first.
  let status = 0;
  try {
    status = (await fetch("/api/board", { cache: "no-store" })).status;
  } catch {
    // It does not answer.
  }
  if (status === 401) {
    useSecond.setState({ state: "out", board: null, sounds: {} });
    return;
  }
  if (status !== 400) return again();
  const now = new WebSocket(`${window.location.origin.replace(/^http/, "ws")}/api/board`);
  socket = now;
  now.onmessage = ({ data }) => {
    const message = JSON.parse(String(data)) as Partial<Second> & { board?: BoardState };
    if (message.board) useSecond.setState({ state: "in", board: message.board });
    if (message.sounds) useSecond.setState({ sounds: message.sounds });
    if (message.wrong) useSecond.setState({ wrong: message.wrong });
  };
  now.onclose = () => {
    if (socket !== now) return;
    socket = null;
    again();
  };
}

function again() {
  useSecond.setState(({ state }) => ({ state: state === "out" ? "out" : "away", sounds: {} }));
  timer = setTimeout(() => void connect(), retryAfter);
}

/** Does an action of the board. While the server is away nothing is kept for later. */
export function act(address: string, value?: string) {
  useSecond.setState({ wrong: null });
  if (socket?.readyState === WebSocket.OPEN) socket.send(JSON.stringify({ act: address, value: value ?? null }));
}

/** Asks to be let in. */
export async function enter(passphrase: string): Promise<string | null> {
  try {
    const answer = await fetch("/api/enter", {
      method: "POST",
      headers: { "Content-Type": "application/json" },
      body: JSON.stringify({ passphrase, name: deviceName() }),
    });
    if (answer.ok) {
      useSecond.setState({ state: "connecting" });
      void connect();
      return null;
    }
    const problem = (await answer.json()) as { problems?: { what: string; allowed: string }[] };
    const first = problem.problems?.[0];
    return first ? `${first.what} Allowed: ${first.allowed}.` : "It was refused.";
  } catch {
    return "Kinetra does not answer.";
  }
}

/** This device is let in no more. */
export async function leave() {
  await fetch("/api/leave", { method: "POST" }).catch(() => undefined);
  const now = socket;
  socket = null;
  now?.close();
  void connect();
}

function deviceName(): string {
  return /(iPhone|iPad|Android|Windows|Mac|Linux)/.exec(navigator.userAgent)?.[1] ?? "A device";
}

const sounds = new Map<string, Promise<{ seconds: number; columns: string } | null>>();

/** A sound's waveform; null: it is gone. */
export function soundOf(address: string) {
  const known = sounds.get(address);
  if (known) return known;
  const asked = fetch(`/api/sounds/${address}`)
    .then((a) => (a.ok ? (a.json() as Promise<{ seconds: number; columns: string }>) : null))
    .catch(() => null);
  sounds.set(address, asked);
  return asked;
}
