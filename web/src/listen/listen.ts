import { create } from "zustand";
import { socketUrl } from "../live/socketUrl";
import { soundContext, wake } from "../sound/context";
import { tell } from "../ui/notices";
import type { FromListenWorker, ToListenWorker, Wish } from "./listen.worker";
import { restoreOutput } from "./outputs";
import { Control, makeSharedSound, openRing, Place, type SoundRing } from "./soundRing";

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

interface Player {
  context: AudioContext;
  node: AudioWorkletNode;
  worker: Worker;
  ring: SoundRing;
}

let player: Promise<Player> | null = null;

/** Turns this window's ears to a mix or a source; `{}` to nothing. From one to another it fades at the server. */
export async function listen(wish: Wish) {
  useListening.setState({ wish });
  try {
    player ??= start();
    const { context, worker, ring } = await player;
    const now = useListening.getState().wish;
    const wanted = now.mix !== undefined || now.source !== undefined;
    Atomics.store(ring.control, Control.wanted, wanted ? 1 : 0);
    worker.postMessage({ kind: "wish", wish: now } satisfies ToListenWorker);
    if (wanted) wake(context);
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

async function start(): Promise<Player> {
  const sound = makeSharedSound();
  const ring = openRing(sound);
  const context = await soundContext();
  const node = new AudioWorkletNode(context, "playout", {
    numberOfInputs: 0,
    outputChannelCount: [2],
    processorOptions: sound,
  });
  node.connect(context.destination);
  void restoreOutput();
  const clock = new MessageChannel();
  node.port.postMessage(clock.port1, [clock.port1]);
  const worker = new Worker(new URL("./listen.worker.ts", import.meta.url), { type: "module", name: "listen" });
  worker.onmessage = ({ data }: MessageEvent<FromListenWorker>) => {
    if (data.kind === "wrong") tell("wrong", data.what, `Allowed: ${data.allowed}.`);
    else useListening.setState({ waiting: data.kind === "closed" });
  };
  worker.postMessage(
    { kind: "start", url: socketUrl("/api/listen"), sound, clock: clock.port2 } satisfies ToListenWorker,
    [clock.port2],
  );
  window.setInterval(() => {
    const gaps = Atomics.load(ring.control, Control.gaps);
    const latency = ring.places[Place.latency] as number;
    const latencyMs = Number.isNaN(latency) ? null : latency / 48;
    const old = useListening.getState();
    if (gaps !== old.gaps || latencyMs !== old.latencyMs) useListening.setState({ gaps, latencyMs });
  }, 500);
  return { context, node, worker, ring };
}
