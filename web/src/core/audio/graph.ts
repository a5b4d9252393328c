import { Capture } from "./capture";
import captureUrl from "./capture.worklet.ts?worker&url";
import type { FromListenWorker } from "./listen.worker";
import { type Player, startPlayer } from "./player";
import playoutUrl from "./playout.worklet.ts?worker&url";

type Choosable = AudioContext & { setSinkId?: (device: string) => Promise<void> };

/** Where the system says: the graph that is always there once it was needed. */
export const defaultOutput = "";

const open = new Map<string, Promise<OutputGraph>>();

/**
 * One sound output of this browser, with the clock that everything on it goes by: what is played there, and what is captured by it. There can
 * be several at once, each its own. It may be suspended until the first press in the page; see `wake`.
 */
export class OutputGraph {
  #users = 0;

  private constructor(
    /** The browser's id of the output; `defaultOutput`: where the system says. */
    readonly device: string,
    readonly context: AudioContext,
  ) {}

  /** That output's graph; made where there was none. Fails where the browser cannot play there. */
  static of(device: string = defaultOutput): Promise<OutputGraph> {
    const known = open.get(device);
    if (known) return known;
    const making = OutputGraph.#make(device).catch((error: unknown) => {
      open.delete(device);
      throw error;
    });
    open.set(device, making);
    return making;
  }

  static async #make(device: string): Promise<OutputGraph> {
    const context: Choosable = new AudioContext({ sampleRate: 48000, latencyHint: "interactive" });
    try {
      if (device !== defaultOutput) await context.setSinkId?.(device);
      await context.audioWorklet.addModule(playoutUrl);
      await context.audioWorklet.addModule(captureUrl);
    } catch (error) {
      void context.close();
      throw error;
    }
    return new OutputGraph(device, context);
  }

  /** Plays what comes down the listening socket; closed by its `close`. */
  play(hear: (message: FromListenWorker) => void): Player {
    const player = startPlayer(this.context, hear);
    player.node.connect(this.context.destination);
    const leave = this.#enter();
    return {
      ...player,
      close: () => {
        player.close();
        leave();
      },
    };
  }

  /** Takes what a browser's input gives; ended by its `stop`. */
  capture(stream: MediaStream): Capture {
    return new Capture(this.context, stream, this.#enter());
  }

  /** Lets it run, at once where the browser allows it, else with the first press in the page. */
  wake() {
    const { context } = this;
    if (context.state === "running") return;
    const resume = () => {
      void context.resume();
      if (context.state === "running") stop();
    };
    const stop = () => {
      window.removeEventListener("pointerdown", resume, true);
      window.removeEventListener("keydown", resume, true);
    };
    window.addEventListener("pointerdown", resume, true);
    window.addEventListener("keydown", resume, true);
    context.addEventListener("statechange", () => context.state !== "suspended" && stop());
    resume();
  }

  // An output that was chosen and is left again is closed with the last who used it: a device is not held for nothing.
  #enter(): () => void {
    this.#users++;
    let left = false;
    return () => {
      if (left) return;
      left = true;
      this.#users--;
      if (this.#users > 0 || this.device === defaultOutput) return;
      open.delete(this.device);
      void this.context.close();
    };
  }
}
