import type { Show } from "@/core/api/client";
import { positionFor } from "@/core/hands/faders";
import { meters } from "@/core/meters/meters";

type Gain = number | "off";
type Held = { address: string };

/**
 * How that stands which an action changes, 0 to 1: on or off, or where a level's fader is. Null: it stands nowhere.
 * @param address By ids.
 */
export function positionIn(
  address: string,
  show: Show,
  holds: readonly Held[] | undefined,
  sounding: ReadonlyMap<string, number>,
): number | null {
  const parts = address.split("/");
  const last = parts.at(-1);
  if (address === "hush") return Number(meters.frame?.hushed ?? false);
  if (address === "record") return Number(meters.frame?.recording ?? false);
  if (last === "cough" || parts[2] === "talk") return Number(holds?.some((h) => h.address === address) ?? false);
  if (parts[0] === "pad" && last === "press") return Number(sounding.has(parts[1] ?? ""));
  if (parts[0] === "mix") {
    const mix = show.mixes.find((m) => m.id === parts[1]);
    if (!mix) return null;
    if (parts[2] === "level") return fader(mix.gain);
    const send = parts[2] === "source" ? mix.sends.find((s) => s.source === parts[3]) : undefined;
    if (!send) return null;
    if (last === "level") return fader(send.gain);
    if (last === "mute") return Number(send.muted);
    return last === "dock" ? Number(!send.heard) : null;
  }
  const source = parts[0] === "source" ? show.sources.find((s) => s.id === parts[1]) : undefined;
  if (!source) return null;
  if (last === "bypass") return Number(source.chain.length > 0 && source.chain.every((p) => p.bypassed));
  return last === "trim" ? fader(source.trim) : null;
}

function fader(gain: Gain): number {
  return positionFor(gain === "off" ? null : gain);
}
