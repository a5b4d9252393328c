import { decimal, signed } from "@/shared/look/format";
import type { Frame } from "./frame";
import type { Layout } from "./paths";

/** Two tracks of one sound that meet: a bow from the one to the other, with how far they are apart. */
export function Twins({ map, frame }: { map: Layout; frame: Frame }) {
  const { mixes, ends, twins } = map.diagram;
  return twins.map((t) => {
    const mix = mixes.findIndex((m) => `mix/${m.id}` === t.at);
    const end = ends.findIndex((e) => e.point === t.at);
    const y = (start: number, by: number) =>
      map.tracks
        .find((x) => x.start === start && (mix >= 0 ? x.mix === mix && x.end < 0 : x.end === end && x.mix === by))
        ?.line.at(-1)?.y;
    const [one, other] = [y(t.one, t.oneMix), y(t.other, t.otherMix)];
    if (one === undefined || other === undefined) return null;
    const x = frame.x(mix >= 0 ? map.mixX : map.endX) - 5;
    const [a, b] = [frame.y(Math.min(one, other)), frame.y(Math.max(one, other))];
    return (
      <g key={`${t.at} ${t.one} ${t.other} ${t.oneMix} ${t.otherMix}`} data-twin={t.at}>
        <path
          d={`M${x} ${a}C${x - 14} ${a} ${x - 14} ${b} ${x} ${b}`}
          stroke="var(--wrong)"
          strokeWidth={2}
          fill="none"
        />
        <circle cx={x} cy={a} r={3} fill="var(--wrong)" />
        <circle cx={x} cy={b} r={3} fill="var(--wrong)" />
        <text
          x={x - 14}
          y={(a + b) / 2 + 4}
          fontSize={11}
          fontWeight={600}
          textAnchor="end"
          fill="var(--wrong)"
          stroke="var(--ground)"
          strokeWidth={3}
          paintOrder="stroke"
        >
          twice, {decimal(t.milliseconds)} ms apart
        </text>
      </g>
    );
  });
}

/** What goes round. */
export function Rings({ map, frame }: { map: Layout; frame: Frame }) {
  const { mixes, ends, starts, rings } = map.diagram;
  return rings.map((r, i) => {
    const mix = mixes.findIndex((m) => `mix/${m.id}` === r.at);
    const end = ends.findIndex((e) => e.point === r.at);
    const start = starts.findIndex((s) => s.point === r.at);
    const [x, y] =
      mix >= 0
        ? [map.mixX, map.mixes[mix]?.bottom]
        : end >= 0
          ? [map.endX, map.ends[end]?.bottom]
          : [20, map.starts[start]];
    if (y === undefined) return null;
    const tone = r.isHeld || r.gainDecibels >= -6 ? "var(--wrong)" : "var(--quiet)";
    return (
      <g
        // biome-ignore lint/suspicious/noArrayIndexKey: loops have no other name than where they are
        key={`${r.at} ${i}`}
        data-ring={r.at}
        transform={`translate(${frame.x(x) + 16} ${frame.y(y) + 14 + 16 * rings.slice(0, i).filter((o) => o.at === r.at).length})`}
      >
        <path
          d="M5.5-3A6.5 6.5 0 1 0 6.5 1.5M6.5-6V-2.5H3"
          stroke={tone}
          strokeWidth={1.8}
          fill="none"
          strokeLinecap="round"
        />
        <text x={12} y={4} fontSize={10.5} fill={tone}>
          {signed(r.gainDecibels)} dB round{r.isHeld ? ", held" : ""}
        </text>
      </g>
    );
  });
}
