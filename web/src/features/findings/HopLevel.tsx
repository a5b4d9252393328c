import { useEffect, useRef } from "react";
import { onPaint } from "@/core/meters/meters";
import { watchPoint } from "@/core/meters/pointLevel";
import { decimal } from "@/shared/look/format";

/** How fast the number falls, dB a second, and what is told as nothing, dBFS. */
const [fall, nothing] = [24, -90];

/** How loud it is at a point now: the highest sample, of all that sounds there. Written straight to the page a few times a second. */
export function HopLevel({ point }: { point: string }) {
  const text = useRef<HTMLSpanElement>(null);
  useEffect(() => {
    const { read, close } = watchPoint(point);
    let [shown, before, written] = [Number.NEGATIVE_INFINITY, performance.now(), 0];
    const stop = onPaint((now) => {
      const peak = read();
      shown = Number.isNaN(peak) ? Number.NEGATIVE_INFINITY : Math.max(peak, shown - ((now - before) / 1000) * fall);
      before = now;
      if (now - written < 200 || !text.current) return;
      written = now;
      text.current.textContent = Number.isNaN(peak) ? "–" : shown > nothing ? decimal(shown, 0) : "silent";
    });
    return () => {
      stop();
      close();
    };
  }, [point]);
  return (
    <span
      ref={text}
      data-level={point}
      title="The highest sample there now, dBFS: of all that sounds there"
      className="narrow w-10 shrink-0 text-right text-xs"
    >
      –
    </span>
  );
}
