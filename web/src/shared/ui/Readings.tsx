import { useEffect, useRef } from "react";
import { onPaint } from "@/core/meters/meters";

/** Measured values, written straight to the page a few times a second. */
export function Readings({ rows }: { rows: [string, () => string][] }) {
  const list = useRef<HTMLDListElement>(null);
  const newest = useRef(rows);
  newest.current = rows;
  useEffect(() => {
    let written = 0;
    return onPaint((now) => {
      if (now - written < 200) return;
      written = now;
      list.current?.querySelectorAll("dd").forEach((dd, i) => {
        dd.textContent = newest.current[i]?.[1]() ?? "";
      });
    });
  }, []);
  return (
    <dl ref={list} className="mt-2 grid grid-cols-[1fr_auto] gap-y-1 border-line border-t pt-2 text-xs">
      {rows.map(([name]) => (
        <div key={name} className="contents">
          <dt className="text-quiet">{name}</dt>
          <dd className="text-right">–</dd>
        </div>
      ))}
    </dl>
  );
}
