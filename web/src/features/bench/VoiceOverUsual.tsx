import type { CleanUpAnswer } from "@/core/api/client";

const width = 340;
const height = 190;
const left = 30;
const bottom = 18;
const step = 20;

/** A voice over the room it is in, beside usual speech as loud: in thirds of an octave, as they were measured. */
export function VoiceOverUsual({ bands }: { bands: CleanUpAnswer["bands"] }) {
  const first = bands[0];
  const last = bands.at(-1);
  if (!first || !last) return null;
  const levels = bands.flatMap((b) => [b.voice, b.usual, b.room]);
  const top = Math.ceil((Math.max(...levels) + 3) / step) * step;
  const floor = Math.max(top - 80, Math.floor(Math.min(...levels) / step) * step);
  const x = (at: number) => left + ((width - left) * Math.log(at / first.hertz)) / Math.log(last.hertz / first.hertz);
  const y = (level: number) => ((height - bottom) * (top - Math.max(floor, level))) / (top - floor);
  const line = (of: "voice" | "usual" | "room") => bands.map((b) => `${x(b.hertz)},${y(b[of])}`).join(" ");
  const marks = Array.from({ length: (top - floor) / step + 1 }, (_, i) => top - i * step);
  return (
    <figure>
      <svg
        viewBox={`0 0 ${width} ${height}`}
        className="w-full"
        role="img"
        aria-label="The voice in thirds of an octave, over the room and beside usual speech"
      >
        {marks.map((m) => (
          <g key={m}>
            <line x1={left} x2={width} y1={y(m)} y2={y(m)} className="stroke-line" />
            <text
              x={left - 4}
              y={Math.min(height - bottom, Math.max(8, y(m) + 3))}
              textAnchor="end"
              className="fill-quiet text-[9px]"
            >
              {String(m).replace("-", "−")}
            </text>
          </g>
        ))}
        {[125, 500, 2_000, 8_000].map((f) => (
          <text
            key={f}
            x={x(f)}
            y={height - 5}
            textAnchor={f === first.hertz ? "start" : "middle"}
            className="fill-quiet text-[9px]"
          >
            {f < 1_000 ? f : `${f / 1_000} k`}
          </text>
        ))}
        <polygon
          points={`${left},${height - bottom} ${line("room")} ${width},${height - bottom}`}
          className="fill-quiet/20"
        />
        <polyline points={line("usual")} fill="none" strokeDasharray="3 3" className="stroke-quiet" strokeWidth={1.5} />
        <polyline points={line("voice")} fill="none" className="stroke-ink" strokeWidth={2} />
      </svg>
      <figcaption className="flex flex-wrap gap-x-3 text-[11px] text-quiet">
        <span>
          <b className="text-ink">—</b> the voice, dBFS
        </span>
        <span>┄ usual speech as loud</span>
        <span>▒ the room</span>
      </figcaption>
    </figure>
  );
}
