export interface Signal {
  cycleSeconds: number;
  flashSeconds: number;
  times: number[];
  beep: number[];
}

export interface Playing {
  stop: () => void;
}

const rate = 48_000;
// So much is scheduled ahead, seconds.
const ahead = 1;

/** Whether it is bright at a moment since the beginning, seconds. */
export function isLit({ cycleSeconds, flashSeconds, times }: Signal, seconds: number): boolean {
  if (seconds < 0) return false;
  const at = seconds % cycleSeconds;
  return times.some((t) => at >= t && at < t + flashSeconds);
}

/** The moments since the beginning from one moment up to another, seconds. */
export function momentsBetween({ cycleSeconds, times }: Signal, from: number, to: number): number[] {
  const moments: number[] = [];
  for (let cycle = Math.floor(from / cycleSeconds); cycle * cycleSeconds < to; cycle++)
    for (const t of times) {
      const at = cycle * cycleSeconds + t;
      if (at >= from && at < to && at >= 0) moments.push(at);
    }
  return moments;
}

/** Beeps, and tells for each frame of the screen whether it is bright in it: what is heard leads, the screen follows. */
export async function play(signal: Signal, show: (lit: boolean) => void): Promise<Playing> {
  const context = new AudioContext({ latencyHint: "interactive" });
  await context.resume();
  if (context.state !== "running") {
    void context.close();
    throw new Error("This browser plays no sound now. Allow it sound, and start again.");
  }
  const beep = context.createBuffer(1, signal.beep.length, rate);
  beep.copyToChannel(Float32Array.from(signal.beep), 0);
  const begin = context.currentTime + 0.5;
  let scheduled = 0;
  let frame = requestAnimationFrame(next);
  function next() {
    const until = context.currentTime - begin + ahead;
    for (const at of momentsBetween(signal, scheduled, until)) {
      const source = context.createBufferSource();
      source.buffer = beep;
      source.connect(context.destination);
      source.start(begin + at);
    }
    scheduled = Math.max(scheduled, until);
    show(isLit(signal, heardAt(context) - begin));
    frame = requestAnimationFrame(next);
  }
  return {
    stop: () => {
      cancelAnimationFrame(frame);
      show(false);
      void context.close();
    },
  };
}

// Which moment of the context's time leaves the loudspeaker now, seconds.
function heardAt(context: AudioContext): number {
  const { contextTime, performanceTime } = context.getOutputTimestamp();
  if (contextTime === undefined || performanceTime === undefined || performanceTime === 0)
    return context.currentTime - context.outputLatency;
  return contextTime + (performance.now() - performanceTime) / 1000;
}
