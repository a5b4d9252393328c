import { create } from "zustand";
import { socketUrl } from "../live/socketUrl";
import { tell } from "../ui/notices";
import type { FromListenWorker, ToListenWorker, Wish } from "./listen.worker";
import workletUrl from "./playout.worklet.ts?worker&url";
import { Control, makeSharedSound, openRing } from "./soundRing";

interface ListenState {
  /** What this window listens to; neither: nothing. */
  wish: Wish;
  /** How often the sound ran dry in this window. */
  gaps: number;
  /** True while a sound is wanted but the socket is away. */
  waiting: boolean;
}

/** Listening belongs to this window alone: it changes nobody else's sound. */
export const useListening = create<ListenState>(() => ({ wish: {}, gaps: 0, waiting: false }));

interface Player {
  context: AudioContext;
  worker: Worker;
  control: Int32Array;
}

let player: Promise<Player> | null = null;

/** Turns this window's ears to a mix or a source; `{}` to nothing. From one to another it fades at the server. */
export async function listen(wish: Wish) {
  useListening.setState({ wish });
  try {
    player ??= start();
    const { context, worker, control } = await player;
    const now = useListening.getState().wish;
    const wanted = now.mix !== undefined || now.source !== undefined;
    Atomics.store(control, Control.wanted, wanted ? 1 : 0);
    worker.postMessage({ kind: "wish", wish: now } satisfies ToListenWorker);
    if (wanted) await context.resume();
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
  const { control } = openRing(sound);
  const context = new AudioContext({ sampleRate: 48000, latencyHint: "interactive" });
  await context.audioWorklet.addModule(workletUrl);
  const node = new AudioWorkletNode(context, "playout", {
    numberOfInputs: 0,
    outputChannelCount: [2],
    processorOptions: sound,
  });
  node.connect(context.destination);
  const worker = new Worker(new URL("./listen.worker.ts", import.meta.url), { type: "module", name: "listen" });
  worker.onmessage = ({ data }: MessageEvent<FromListenWorker>) => {
    if (data.kind === "wrong") tell("wrong", data.what, `Allowed: ${data.allowed}.`);
    else useListening.setState({ waiting: data.kind === "closed" });
  };
  worker.postMessage({ kind: "start", url: socketUrl("/api/listen"), sound } satisfies ToListenWorker);
  window.setInterval(() => {
    const gaps = Atomics.load(control, Control.gaps);
    if (gaps !== useListening.getState().gaps) useListening.setState({ gaps });
  }, 500);
  return { context, worker, control };
}
