import type { Parameter, PlainControl, ProcessorType } from "@/core/api/client";
import { shareOf, valueAt, valueText } from "@/shared/forms/parameters";

/** Places of a plain control, from 0. */
export const plainPlaces = 100;

function movesOf(control: PlainControl, type: ProcessorType) {
  return control.moves.flatMap((move) => {
    const parameter = type.parameters.find((p) => p.key === move.parameter);
    return parameter ? [{ ...move, parameter }] : [];
  });
}

/** What the parameters are at a place of a plain control: each evenly along its own slider. */
export function valuesAt(control: PlainControl, type: ProcessorType, place: number): Record<string, number> {
  return Object.fromEntries(
    movesOf(control, type).map(({ parameter, from, to }) => {
      if (from === to || place <= 0) return [parameter.key, from];
      if (place >= plainPlaces) return [parameter.key, to];
      const [start, end] = [shareOf(parameter, from), shareOf(parameter, to)];
      return [parameter.key, valueAt(parameter, start + ((end - start) * place) / plainPlaces)];
    }),
  );
}

/** Where a plain control stands, and whether the parameters are just there, or were set by hand. */
export function placeAt(control: PlainControl, type: ProcessorType, values: Record<string, number>) {
  const moves = movesOf(control, type);
  const turned = moves.filter((m) => m.from !== m.to);
  const along = turned.map(({ parameter, from, to }) => {
    const [start, end] = [shareOf(parameter, from), shareOf(parameter, to)];
    return (shareOf(parameter, values[parameter.key] ?? parameter.default) - start) / (end - start);
  });
  const mean = along.reduce((a, b) => a + b, 0) / Math.max(1, along.length);
  const place = Math.round(Math.min(1, Math.max(0, mean)) * plainPlaces);
  const there = valuesAt(control, type, place);
  const exact = moves.every(({ parameter, from, to }) => {
    const value = values[parameter.key] ?? parameter.default;
    if (from === to) return value === from;
    return Math.abs(shareOf(parameter, value) - shareOf(parameter, there[parameter.key] ?? value)) < 0.012;
  });
  return { place, exact };
}

/** What a plain control turns, in words. */
export function movesText(control: PlainControl, type: ProcessorType): string {
  const text = (parameter: Parameter, from: number, to: number) =>
    from === to
      ? `${parameter.name} ${valueText(parameter, from).toLowerCase()}`
      : `${parameter.name} ${valueText(parameter, from)} to ${valueText(parameter, to)}`;
  return movesOf(control, type)
    .map((m) => text(m.parameter, m.from, m.to))
    .join(", ");
}
