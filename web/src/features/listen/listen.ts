import { create } from "zustand";
import type { Show } from "@/core/api/client";
import { OutputGraph } from "@/core/audio/graph";
import { restoreOutput, useOutputs } from "@/core/audio/outputs";
import type { Player } from "@/core/audio/player";
import { Control, Place } from "@/core/audio/soundRing";
import { isAny, isSame, type Wish } from "@/core/audio/wish";
import { tell } from "@/core/notices/notices";

interface ListenState {
  /** What this window listens to; nothing of it: nothing. */
  wish: Wish;
  /** What a point that is neither a mix nor a source is called. */
  called: string;
  /** How often the sound ran dry in this window. */
  gaps: number;
  /** True while a sound is wanted but the socket is away. */
  waiting: boolean;
  /** How long sound waits in this window, ms; null: nothing is played. */
  latencyMs: number | null;
  /** By how many LU what is auditioned is louder with than without, which is made up for; null: not known yet. */
  difference: number | null;
}

/** Listening belongs to this window alone: it changes nobody else's sound. */
export const useListening = create<ListenState>(() => ({
  wish: {},
  called: "",
  gaps: 0,
  waiting: false,
  latencyMs: null,
  difference: null,
}));

/** How long what played before goes on at most while the next output begins, ms. */
const longestMove = 1500;

interface Playing {
  graph: OutputGraph;
  player: Player;
}

let playing: Promise<Playing> | null = null;

/** All that can sound in this window: while the output changes, what plays and what will. */
const players = new Set<Player>();

/** Turns this window's ears to a mix, a source or another point; `{}` to nothing. From one to another it fades at the server. */
export async function listen(wish: Wish, called = "") {
  useListening.setState({ wish, called, difference: null });
  // Also what is about to be left: who stops listening hears nothing any more, nowhere.
  for (const player of players) player.wish(wish);
  try {
    playing ??= start();
    turn(await playing);
  } catch (error) {
    playing = null;
    useListening.setState({ wish: {} });
    tell(
      "wrong",
      "This browser gives no sound.",
      `${String(error)} Allowed: a browser with AudioWorklet, on this machine.`,
    );
  }
}

/** The same again stops it. */
export function toggleListen(wish: Wish, called = "") {
  const { wish: now } = useListening.getState();
  void listen(isSame(now, wish) ? {} : wish, called);
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

function turn({ graph, player }: Playing) {
  const { wish } = useListening.getState();
  player.wish(wish);
  if (isAny(wish)) graph.wake();
}

async function start(): Promise<Playing> {
  await restoreOutput();
  const first = await playOn(useOutputs.getState().chosen);
  useOutputs.subscribe(({ chosen }, { chosen: before }) => {
    if (chosen !== before) playing = playing?.then((from) => move(from, chosen)) ?? null;
  });
  window.setInterval(async () => {
    const now = await playing?.catch(() => null);
    if (!now) return;
    const gaps = Atomics.load(now.player.ring.control, Control.gaps);
    const latency = latencyOf(now.player);
    const latencyMs = Number.isNaN(latency) ? null : latency / 48;
    const old = useListening.getState();
    if (gaps !== old.gaps || latencyMs !== old.latencyMs) useListening.setState({ gaps, latencyMs });
  }, 500);
  return first;
}

async function playOn(device: string): Promise<Playing> {
  const graph = await OutputGraph.of(device);
  const player = graph.play((message) => {
    if (message.kind === "wrong") tell("wrong", message.what, `Allowed: ${message.allowed}.`);
    else if (message.kind === "matched") useListening.setState({ difference: message.difference });
    else useListening.setState({ waiting: message.kind === "closed" });
  });
  players.add(player);
  return { graph, player };
}

// To another output: what plays goes on where it is until the other one plays too.
async function move(from: Playing, device: string): Promise<Playing> {
  if (from.graph.device === device) return from;
  try {
    const to = await playOn(device);
    turn(to);
    const begun = performance.now();
    const look = window.setInterval(() => {
      if (Number.isNaN(latencyOf(to.player)) && performance.now() - begun < longestMove) return;
      window.clearInterval(look);
      players.delete(from.player);
      from.player.close();
    }, 50);
    return to;
  } catch (error) {
    tell("wrong", "This output cannot be used.", `${String(error)} It plays where it did.`);
    return from;
  }
}

const latencyOf = (player: Player) => player.ring.places[Place.latency] as number;
