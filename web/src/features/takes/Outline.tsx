import { useEffect, useRef } from "react";

/** What is full scale in an outline. */
const fullScale = 1_000;

/** The outline of a track: as high as it is loud, drawn by its root, so that what is 20 dB down is still to be seen. For the eye. */
export function Outline({ peaks, silent, low }: { peaks: readonly number[]; silent: boolean; low?: boolean }) {
  const canvas = useRef<HTMLCanvasElement>(null);
  useEffect(() => {
    const element = canvas.current;
    if (!element) return;
    const draw = () => {
      const { clientWidth: width, clientHeight: height } = element;
      const scale = window.devicePixelRatio;
      [element.width, element.height] = [Math.round(width * scale), Math.round(height * scale)];
      const on = element.getContext("2d");
      if (!on) return;
      const style = getComputedStyle(element);
      const [plain, clipped] = [style.color, style.getPropertyValue("--wrong")];
      for (let x = 0; x < element.width; x++) {
        const peak = peaks[Math.floor((x * peaks.length) / element.width)] ?? 0;
        const high = Math.max(1, Math.sqrt(Math.min(1, peak / fullScale)) * element.height);
        on.fillStyle = peak >= fullScale ? clipped : plain;
        on.fillRect(x, (element.height - high) / 2, 1, high);
      }
    };
    draw();
    const watch = new ResizeObserver(draw);
    watch.observe(element);
    return () => watch.disconnect();
  }, [peaks]);
  return (
    <div aria-hidden="true">
      <canvas ref={canvas} className={`${low ? "h-5" : "h-9"} block w-full ${silent ? "text-line" : "text-strong"}`} />
    </div>
  );
}
