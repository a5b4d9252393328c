import { create } from "zustand";
import type { Show } from "@/core/api/client";
import { soundContext, wake } from "@/core/audio/context";
import type { Wish } from "@/core/audio/listen.worker";
import { restoreOutput } from "@/core/audio/outputs";
import { type Player, startPlayer } from "@/core/audio/player";
import { Control, Place } from "@/core/audio/soundRing";
import { tell } from "@/core/notices/notices";

interface ListenState {
  /** What this window listens to; neither: nothing. */
  wish: Wish;
  /** How often the sound ran dry in this window. */
  gaps: number;
  /** True while a sound is wanted but the socket is away. */
  waiting: boolean;
  /** How long sound waits in this window, ms; null: nothing is played. */
  latencyMs: number | null;
}

/** Listening belongs to this window alone: it changes nobody else's sound. */
export const useListening = create<ListenState>(() => ({ wish: {}, gaps: 0, waiting: false, latencyMs: null }));

let player: Promise<Player> | null = null;

/** Turns this window's ears to a mix or a source; `{}` to nothing. From one to another it fades at the server. */
export async function listen(wish: Wish) {
  useListening.setState({ wish });
  try {
    player ??= start();
    const { wish: turn } = await player;
    const now = useListening.getState().wish;
    turn(now);
    if (now.mix !== undefined || now.source !== undefined) wake(await soundContext());
  } catch (error) {
    player = null;
    useListening.setState({ wish: {} });
    tell(
      "wrong",
      "This browser gives no sound.",
      `${String(error)} Allowed: a browser with AudioWorklet, on this machine.`,
    );
  }
}

/** The same again stops it. */
export function toggleListen(wish: Wish) {
  const { wish: now } = useListening.getState();
  const same = now.mix === wish.mix && now.source === wish.source;
  void listen(same ? {} : wish);
}

let known: Show | null = null;

/**
 * Where another show is opened, the ears stay with the same listener: the mix of the same name, or else for the same purpose.
 * Where that is gone, or the source is, they hear nothing.
 */
export function keepListening(show: Show) {
  const { wish } = useListening.getState();
  const before = known?.mixes.find((m) => m.id === wish.mix);
  known = show;
  const gone =
    (wish.mix !== undefined && !show.mixes.some((m) => m.id === wish.mix)) ||
    (wish.source !== undefined && !show.sources.some((s) => s.id === wish.source));
  if (!gone) return;
  const next =
    show.mixes.find((m) => m.name.toLowerCase() === before?.name.toLowerCase()) ??
    show.mixes.find((m) => m.purpose === before?.purpose);
  void listen(next ? { mix: next.id } : {});
}

async function start(): Promise<Player> {
  const context = await soundContext();
  const started = startPlayer(context, (message) => {
    if (message.kind === "wrong") tell("wrong", message.what, `Allowed: ${message.allowed}.`);
    else useListening.setState({ waiting: message.kind === "closed" });
  });
  started.node.connect(context.destination);
  void restoreOutput();
  window.setInterval(() => {
    const gaps = Atomics.load(started.ring.control, Control.gaps);
    const latency = started.ring.places[Place.latency] as number;
    const latencyMs = Number.isNaN(latency) ? null : latency / 48;
    const old = useListening.getState();
    if (gaps !== old.gaps || latencyMs !== old.latencyMs) useListening.setState({ gaps, latencyMs });
  }, 500);
  return started;
}
