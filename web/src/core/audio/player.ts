import { socketUrl } from "@/core/realtime/socketUrl";
import type { FromListenWorker, ToListenWorker } from "./listen.worker";
import { Control, makeSharedSound, openRing, type SoundRing } from "./soundRing";
import { isAny, type Wish } from "./wish";

/** Sound that comes down: a socket's Worker, shared memory, and the worklet that plays it. */
export interface Player {
  node: AudioWorkletNode;
  ring: SoundRing;
  wish: (wish: Wish) => void;
  close: () => void;
}

/** Makes one. Its node is to be connected to where it shall sound. */
export function startPlayer(context: AudioContext, hear: (message: FromListenWorker) => void): Player {
  const sound = makeSharedSound();
  const ring = openRing(sound);
  const node = new AudioWorkletNode(context, "playout", {
    numberOfInputs: 0,
    outputChannelCount: [2],
    processorOptions: sound,
  });
  const clock = new MessageChannel();
  node.port.postMessage(clock.port1, [clock.port1]);
  const worker = new Worker(new URL("./listen.worker.ts", import.meta.url), { type: "module", name: "listen" });
  worker.onmessage = ({ data }: MessageEvent<FromListenWorker>) => hear(data);
  const url = socketUrl("/api/listen");
  worker.postMessage({ kind: "start", url, sound, clock: clock.port2 } satisfies ToListenWorker, [clock.port2]);
  return {
    node,
    ring,
    wish: (wish) => {
      Atomics.store(ring.control, Control.wanted, isAny(wish) ? 1 : 0);
      worker.postMessage({ kind: "wish", wish } satisfies ToListenWorker);
    },
    close: () => {
      worker.terminate();
      node.disconnect();
    },
  };
}
