import { Radio } from "lucide-react";
import type { OnAirComparison, Show } from "@/core/api/client";
import { useShow } from "@/core/commands/show";
import { useOnAir } from "@/core/realtime/onAir";
import { signed } from "@/shared/look/format";
import { Button } from "@/shared/ui/Button";
import { endOnAir } from "./onAir";

/** Says in every window what is compared on air, with and without alike: nothing moves under the hand that goes to and fro. */
export function OnAirBanner() {
  const show = useShow().data;
  const now = useOnAir();
  if (!show || now?.show !== show.id) return null;
  const isWith = !now.isWithout && !now.isWaiting;
  return (
    <div
      role="status"
      className={`flex flex-wrap items-center gap-2 border-b px-4 py-1 text-[13px] ${isWith ? "border-line" : "border-wrong bg-wrong/10"}`}
    >
      <Radio size={15} className="shrink-0 text-wrong" aria-hidden="true" />
      <span>
        <b>On air:</b> {wordsOf(show, now)}
      </span>
      <Button className="h-7" onClick={() => void endOnAir()}>
        {isWith ? "End comparing" : "With it again"}
      </Button>
    </div>
  );
}

function wordsOf(show: Show, { place, processor, isWithout, isWaiting, difference }: OnAirComparison): string {
  const [kind, id] = place.split("/");
  const of = kind === "mix" ? show.mixes.find((m) => m.id === id) : show.sources.find((s) => s.id === id);
  const what = processor ? "one of its processors" : "its chain";
  if (!isWithout && !isWaiting) return `all hear ${of?.name ?? "a sound"} with ${what}.`;
  return isWithout
    ? `all hear ${of?.name ?? "a sound"} without ${what}, ${signed(difference ?? 0)} LU made up.`
    : `all are about to hear ${of?.name ?? "a sound"} without ${what}; how loud it is, is being measured.`;
}
