import type { Show } from "@/core/api/client";
import { colorOf, shapes } from "@/shared/look/sources";
import { frameOf, lineOf } from "./frame";
import type { Layout } from "./paths";

/** The map as an SVG document of its own: colours by value, names as text, nothing that lies elsewhere. */
export function svgOf(map: Layout, show: Show, value: (color: string) => string): string {
  const frame = frameOf(map, { width: 1280, height: 720 });
  const { starts, mixes, ends } = map.diagram;
  const source = (start: number) => show.sources.find((s) => s.id === starts[start]?.source);
  const color = (start: number) => {
    const of = source(start);
    return value(of ? colorOf(of) : "var(--quiet)");
  };
  const [ink, quiet, wrong] = [value("var(--ink)"), value("var(--quiet)"), value("var(--wrong)")];
  const text = (x: number, y: number, words: string, size: number, fill: string, anchor = "start", weight = 400) =>
    `<text x="${x.toFixed(1)}" y="${y.toFixed(1)}" font-size="${size}" font-weight="${weight}" fill="${fill}" text-anchor="${anchor}">${escaped(words)}</text>`;
  const column = (x: number, e: { top: number; bottom: number } | undefined) =>
    e
      ? `<path d="M${frame.x(x).toFixed(1)} ${(frame.y(e.top) - 5).toFixed(1)}V${(frame.y(e.bottom) + 5).toFixed(1)}" stroke="${ink}" stroke-width="4" stroke-linecap="round"/>`
      : "";
  const parts = [
    ...starts.flatMap((s, i) => {
      const y = frame.y(map.starts[i] ?? 0);
      const sign = shapes[source(i)?.look.shape ?? 0];
      return [
        `<path d="M${frame.x(0)} ${y.toFixed(1)}H${frame.x(Math.max(map.trunks[i] ?? 0, 24)).toFixed(1)}" stroke="${color(i)}" stroke-width="2.4" fill="none"/>`,
        `<path d="${sign}" transform="translate(${frame.x(0)} ${y.toFixed(1)}) scale(0.72)" fill="${color(i)}"/>`,
        text(frame.left - 16, y - 1, s.name, 13, ink, "end", 600),
        text(frame.left - 16, y + 11, s.from, 10.5, quiet, "end"),
      ];
    }),
    ...map.tracks.map(
      (t) =>
        `<path d="${lineOf(frame, t.line)}" stroke="${color(t.start)}" stroke-width="2.4" fill="none" stroke-linejoin="round"${t.state === "On" ? "" : ' stroke-dasharray="6 5"'}><title>${escaped(`${starts[t.start]?.name} to ${t.end >= 0 ? ends[t.end]?.name : mixes[t.mix]?.name}`)}</title></path>`,
    ),
    ...map.ticks.flatMap((t) => [
      `<path d="M${frame.x(t.at.x).toFixed(1)} ${(frame.y(t.at.y) - 5).toFixed(1)}V${(frame.y(t.at.y + t.height) + 5).toFixed(1)}" stroke="${ink}" stroke-width="2"/>`,
      text(frame.x(t.at.x) + 5, frame.y(t.at.y) - 5, `${t.tick.name} ${t.tick.what}`.trim(), 10.5, quiet),
    ]),
    ...mixes.flatMap((m, i) => [
      column(map.mixX, map.mixes[i]),
      text(frame.x(map.mixX) + 8, frame.y(map.mixes[i]?.top ?? 0) - 11, m.name, 12, ink, "start", 600),
    ]),
    ...ends.flatMap((e, i) => {
      const at = map.ends[i];
      return [
        column(map.endX, at),
        text(
          frame.x(map.endX) + 12,
          frame.y(((at?.top ?? 0) + (at?.bottom ?? 0)) / 2) + 4,
          e.name,
          13,
          ink,
          "start",
          600,
        ),
      ];
    }),
    ...map.diagram.twins.map((t) => {
      const mix = mixes.findIndex((m) => `mix/${m.id}` === t.at);
      const at = mix >= 0 ? map.mixes[mix] : map.ends[ends.findIndex((e) => e.point === t.at)];
      const x = frame.x(mix >= 0 ? map.mixX : map.endX);
      return text(
        x - 16,
        frame.y(at?.bottom ?? 0) + 14,
        `${starts[t.one]?.name} twice, ${t.milliseconds.toFixed(1)} ms apart`,
        11,
        wrong,
        "end",
        600,
      );
    }),
  ];
  return [
    `<svg xmlns="http://www.w3.org/2000/svg" width="${Math.ceil(frame.width)}" height="${Math.ceil(frame.height)}" viewBox="0 0 ${Math.ceil(frame.width)} ${Math.ceil(frame.height)}" font-family="sans-serif">`,
    `<title>${escaped(`${show.name}: where every sound goes`)}</title>`,
    `<rect width="100%" height="100%" fill="${value("var(--ground)")}"/>`,
    ...parts,
    "</svg>",
    "",
  ].join("\n");
}

/** Hands the map to the browser as a file. */
export function exportSvg(map: Layout, show: Show) {
  const style = getComputedStyle(document.documentElement);
  const svg = svgOf(map, show, (color) => style.getPropertyValue(color.slice(4, -1)).trim());
  const url = URL.createObjectURL(new Blob([svg], { type: "image/svg+xml" }));
  const link = document.createElement("a");
  link.href = url;
  link.download = `${show.name} paths.svg`;
  link.click();
  // The browser has it by then.
  setTimeout(() => URL.revokeObjectURL(url), 10_000);
}

function escaped(text: string): string {
  return text.replaceAll("&", "&amp;").replaceAll("<", "&lt;").replaceAll(">", "&gt;").replaceAll('"', "&quot;");
}
