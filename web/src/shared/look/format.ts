import type { Gain } from "@/core/api/client";

/** The proper minus sign. */
const minus = "−";

/** What sounds is far above this many dB below full scale; what is left below it is the rounding of sums that have run out. */
const silent = 200;

/** A number with a proper minus and one decimal: "−18.9". Not a number that can be shown: "−∞" or "–". */
export function decimal(value: number, digits = 1): string {
  if (Number.isNaN(value)) return "–";
  if (value < -silent) return `${minus}∞`;
  const text = Math.abs(value).toFixed(digits);
  return value < 0 && Number(text) !== 0 ? minus + text : text;
}

/** The same with its sign always there: "+3.0", "−1.5", "0.0". */
export function signed(value: number, digits = 1): string {
  const text = decimal(value, digits);
  return value > 0 && Number(text) !== 0 ? `+${text}` : text;
}

/** A gain as a person reads it: "off", "0.0 dB", "−6.5 dB". */
export function gainText(gain: Gain): string {
  return gain === "off" ? "off" : `${signed(gain)} dB`;
}

/** What a person types for a gain: a number with any minus sign and an optional unit, or "off". Null: not understood. */
export function parseGain(text: string): Gain | null {
  const clean = text
    .trim()
    .toLowerCase()
    .replace(/[−–]/g, "-")
    .replace(",", ".")
    .replace(/\s*(db|lufs)$/, "");
  if (clean === "off" || clean === "-∞" || clean === "-inf") return "off";
  const value = Number(clean);
  return clean === "" || !Number.isFinite(value) ? null : value;
}

/** Sound goes so far in a second, metres: dry air at 20 °C. */
const soundSpeed = 343;

/** Pictures a second, where a delay is given in them. */
const pictureRate = 25;

/** What a person types for a delay: ms, or metres that sound goes ("12 m"), or pictures ("2 f", 25 a second). Null: not understood, or beyond 2 s. */
export function parseDelay(text: string): number | null {
  const found = /^(\d+(?:[.,]\d+)?)\s*(ms|m|f|frames?)?$/.exec(text.trim().toLowerCase());
  if (!found) return null;
  const value = Number((found[1] ?? "").replace(",", "."));
  const unit = found[2] ?? "ms";
  const ms = unit === "ms" ? value : unit === "m" ? (value / soundSpeed) * 1000 : (value / pictureRate) * 1000;
  return ms <= 2000 ? Math.round(ms * 10) / 10 : null;
}

/** The factor's decibels as a number: −∞ for off. */
export function decibels(gain: Gain): number {
  return gain === "off" ? Number.NEGATIVE_INFINITY : gain;
}

/** Minutes and seconds: "4:07", or "1:02:33". */
export function duration(seconds: number): string {
  const whole = Math.floor(seconds);
  const two = (n: number) => String(n).padStart(2, "0");
  const hours = Math.floor(whole / 3600);
  const rest = `${hours > 0 ? two(Math.floor(whole / 60) % 60) : Math.floor(whole / 60)}:${two(whole % 60)}`;
  return hours > 0 ? `${hours}:${rest}` : rest;
}

/** A pan as a person reads it: "centre", "30 % left". */
export function panText(pan: number): string {
  const percent = Math.round(Math.abs(pan) * 100);
  if (percent === 0) return "centre";
  return `${percent} % ${pan < 0 ? "left" : "right"}`;
}

/** Time of day: "14:03". */
export function clock(at: string): string {
  return new Date(at).toLocaleTimeString([], { hour: "2-digit", minute: "2-digit", hour12: false });
}
