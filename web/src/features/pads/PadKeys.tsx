import { useEffect } from "react";
import type { Show } from "@/core/api/client";
import { padsAre } from "@/core/hands/keyboard";
import { useHand } from "./pads";

/** Says which pads lie on which keys, so that they can be played on every screen. Nothing is drawn. */
export function PadKeys({ show }: { show: Show }) {
  const { set } = useHand(show);
  useEffect(() => padsAre((code) => set?.pads.find((p) => p.key === code)?.id ?? null), [set]);
  return null;
}
