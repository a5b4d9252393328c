import { useEffect, useRef } from "react";
import { meters, onPaint } from "@/core/meters/meters";
import { watchPoint } from "@/core/meters/pointLevel";

/** The quietest that is drawn, dBFS. */
const floor = -60;

/** How fast the bar falls, dB a second. */
const fall = 24;

/** Reads one point, or one channel of it. */
function reader(of: string): { read: () => number; close: () => void } {
  const [point = "", channel] = of.split("#");
  return channel === undefined
    ? watchPoint(point)
    : { read: () => meters.bus(point, Number(channel)), close: () => {} };
}

/** A bar that moves with the loudest of some points; `point#1` is its second channel. For the eye: what sounds is told in words beside it. */
export function Level({ points, flat }: { points: readonly string[]; flat?: boolean }) {
  const bar = useRef<HTMLDivElement>(null);
  const key = points.join(" ");
  useEffect(() => {
    const all = key === "" ? [] : key.split(" ").map(reader);
    let [shown, before] = [Number.NEGATIVE_INFINITY, performance.now()];
    const stop = onPaint((now) => {
      // Not a number: not known yet.
      const peak = all.reduce(
        (most, of) => Math.max(most, of.read() || Number.NEGATIVE_INFINITY),
        Number.NEGATIVE_INFINITY,
      );
      shown = Math.max(peak, shown - ((now - before) / 1000) * fall);
      before = now;
      if (!bar.current) return;
      const share = Math.min(1, Math.max(0, 1 - shown / floor));
      bar.current.style.transform = `scaleX(${Number.isFinite(shown) ? share : 0})`;
      bar.current.style.background = peak >= 0 ? "var(--wrong)" : "var(--lamp)";
    });
    return () => {
      stop();
      for (const one of all) one.close();
    };
  }, [key]);
  return (
    <div
      aria-hidden="true"
      className={`h-1.5 w-14 shrink-0 overflow-hidden rounded-sm bg-line max-md:w-9 ${flat ? "" : "mt-2.5"}`}
    >
      <div ref={bar} className="h-full origin-left" style={{ transform: "scaleX(0)" }} />
    </div>
  );
}
