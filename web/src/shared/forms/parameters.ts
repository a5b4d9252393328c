import type { Parameter } from "@/core/api/client";

/** A parameter's value as a person reads it. */
export function valueText({ unit, scale, choices }: Parameter, value: number): string {
  if (scale === "Choice") return choices?.[value] ?? "";
  const digits = scale === "Decibels" || Math.abs(value) < 10 ? 1 : 0;
  const number = (value < 0 ? "−" : "") + Math.abs(value).toFixed(digits);
  return unit === "" ? number : unit.startsWith(":") ? number + unit : `${number} ${unit}`;
}

/** The allowed values, in words. */
export function allowedText({ min, max, unit }: Parameter): string {
  return `${min < 0 ? "−" : ""}${Math.abs(min)} to ${max}${unit === "" ? "" : ` ${unit}`}`;
}

/** A typed value within what is allowed, or null. kHz and s are understood too. */
export function readValue({ min, max }: Parameter, text: string): number | null {
  const found = /^\s*([-−–]?\d+(?:[.,]\d+)?)\s*(k|khz|s)?\b/i.exec(text.replace(/(\d)\s+(?=\d)/g, "$1"));
  if (!found) return null;
  const number = Number((found[1] ?? "").replace(/[−–]/, "-").replace(",", "."));
  const value = /^(k|khz|s)$/i.test(found[2] ?? "") ? number * 1000 : number;
  return value >= min && value <= max ? value : null;
}

/** Where a value stands on its slider, 0 to 1. */
export function shareOf({ min, max, scale }: Parameter, value: number): number {
  return scale === "Logarithmic" ? Math.log(value / min) / Math.log(max / min) : (value - min) / (max - min);
}

/** The value at a place of its slider, rounded to what a hand can mean. */
export function valueAt({ min, max, scale }: Parameter, share: number): number {
  if (share <= 0) return min;
  if (share >= 1) return max;
  const value = scale === "Logarithmic" ? min * (max / min) ** share : min + (max - min) * share;
  const step = scale === "Logarithmic" ? 10 ** (Math.floor(Math.log10(value)) - 1) / 2 : max - min > 100 ? 1 : 0.1;
  return Math.min(max, Math.max(min, Number((Math.round(value / step) * step).toFixed(4))));
}

/** The value of a parameter of a processor. */
export function storedValue(parameter: Parameter, values: Record<string, number>): number {
  return values[parameter.key] ?? parameter.default;
}
