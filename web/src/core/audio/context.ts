import captureUrl from "./capture.worklet.ts?worker&url";
import playoutUrl from "./playout.worklet.ts?worker&url";

let shared: Promise<AudioContext> | null = null;

/**
 * This window's one AudioContext, for all that it captures and plays: one clock. It may be suspended until the first press
 * in the page; see `wake`.
 */
export function soundContext(): Promise<AudioContext> {
  shared ??= start().catch((error: unknown) => {
    shared = null;
    throw error;
  });
  return shared;
}

async function start(): Promise<AudioContext> {
  const context = new AudioContext({ sampleRate: 48000, latencyHint: "interactive" });
  await context.audioWorklet.addModule(playoutUrl);
  await context.audioWorklet.addModule(captureUrl);
  return context;
}

/** Lets the context run, at once where the browser allows it, else with the first press in the page. */
export function wake(context: AudioContext) {
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
  context.addEventListener("statechange", () => context.state === "running" && stop());
  resume();
}
