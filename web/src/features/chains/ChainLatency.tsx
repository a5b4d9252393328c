import { useEffect, useRef } from "react";
import { ProcessorMeter } from "@/core/api/generated/live";
import { meters, onPaint } from "@/core/meters/meters";

/** What the chain adds in time. */
export function ChainLatency({ processors }: { processors: string[] }) {
  const text = useRef<HTMLSpanElement>(null);
  const ids = useRef(processors);
  ids.current = processors;
  useEffect(() => {
    let written = 0;
    return onPaint((now) => {
      if (now - written < 250 || !text.current) return;
      written = now;
      const frames = ids.current.reduce(
        (sum, id) => sum + Math.max(0, meters.processor(id, ProcessorMeter.latency)),
        0,
      );
      text.current.textContent = frames === 0 ? "adds no delay" : `adds ${(frames / 48).toFixed(1)} ms`;
    });
  }, []);
  return <span ref={text} className="text-xs text-quiet" />;
}
