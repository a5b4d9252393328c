import { decimal } from "@/shared/look/format";
import { gridValues, share } from "./axis";

/** The numbers of the loudness axis, once for all lanes. */
export function AxisScale() {
  return (
    <div className="sticky top-0 z-20 grid h-7 border-line border-b bg-ground md:grid-cols-[10.5rem_7.5rem_1fr]">
      <span className="self-center px-3 max-md:hidden text-[11px] text-quiet">Listener</span>
      <span className="self-center px-1.5 max-md:hidden text-[11px] text-quiet">Dock</span>
      <div className="relative mx-4">
        {gridValues.map((value, i) => (
          <span
            key={value}
            className={`absolute top-1.5 -translate-x-1/2 text-[11px] text-quiet ${i % 2 === 1 ? "max-md:hidden" : ""}`}
            style={{ left: `${share(value) * 100}%` }}
          >
            {decimal(value, 0)}
            {i === 0 && <span className="max-md:hidden"> LUFS</span>}
          </span>
        ))}
      </div>
    </div>
  );
}
