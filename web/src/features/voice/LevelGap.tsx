import { useEffect, useRef } from "react";
import { onPaint } from "@/core/meters/meters";
import { watchPoint } from "@/core/meters/pointLevel";
import { decimal } from "@/shared/look/format";

/** How fast the number falls back, dB a second, once it has stood for a moment. */
const fall = 18;
const hold = 900;
/** From here on it is too loud for what comes next to be safe, dBFS. */
const hot = -1;

interface Props {
  point: string;
  words: string;
  color: string;
}

/** How loud it is at a point, as a stretch of the track: as thick as its highest sample is high. */
export function LevelLine({ point, color }: Omit<Props, "words">) {
  const line = useRef<HTMLSpanElement>(null);
  useEffect(
    () =>
      watchLevel(point, (level) => {
        if (!line.current) return;
        const share = Math.min(1, Math.max(0, (level + 60) / 60));
        line.current.style.height = `${(2 + 14 * share).toFixed(1)}px`;
        line.current.style.background = level > hot ? "var(--wrong)" : color;
      }),
    [point, color],
  );
  return <span ref={line} className="w-full" style={{ height: 2, background: color }} aria-hidden="true" />;
}

/** The way between two processors, with the highest sample there. */
export function LevelGap({ point, words, color }: Props) {
  const number = useRef<HTMLSpanElement>(null);
  useEffect(() => {
    let written = 0;
    return watchLevel(point, (_, most, now) => {
      if (now - written < 180 || !number.current) return;
      written = now;
      number.current.textContent = decimal(most);
      number.current.style.color = most > hot ? "var(--wrong)" : "";
    });
  }, [point]);
  return (
    <div className="flex w-14 shrink-0 flex-col items-center" title={`${words}: the highest sample, dBFS`}>
      <div className="flex h-7 w-full items-center">
        <LevelLine point={point} color={color} />
      </div>
      <span className="text-[11px] text-quiet">
        <span className="sr-only">{words}: </span>
        <span ref={number}>−∞</span>
        <span className="sr-only"> dBFS</span>
      </span>
    </div>
  );
}

/** Calls back with the level at a point, which falls slowly, and with the highest of the last moment. */
function watchLevel(point: string, draw: (level: number, most: number, now: number) => void): () => void {
  const look = watchPoint(point);
  let level = Number.NEGATIVE_INFINITY;
  let most = Number.NEGATIVE_INFINITY;
  let mostAt = 0;
  let before = performance.now();
  const stop = onPaint((now) => {
    const read = look.read();
    const known = Number.isNaN(read) ? Number.NEGATIVE_INFINITY : read;
    level = Math.max(known, level - ((now - before) / 1000) * fall);
    before = now;
    if (known >= most || now - mostAt > hold) {
      most = known;
      mostAt = now;
    }
    draw(level, most, now);
  });
  return () => {
    stop();
    look.close();
  };
}
