import { useCallback, useState } from "react";

/** The size of an element, as it is now, px. */
export function useRoom() {
  const [size, setSize] = useState({ width: 0, height: 0 });
  const of = useCallback((element: HTMLElement | null) => {
    if (!element) return;
    const observer = new ResizeObserver(() => setSize({ width: element.clientWidth, height: element.clientHeight }));
    observer.observe(element);
    return () => observer.disconnect();
  }, []);
  return { ...size, of };
}
