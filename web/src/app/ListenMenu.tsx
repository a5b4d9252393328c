import { ChevronDown, Headphones, Square, Timer } from "lucide-react";
import { chooseOutput, useOutputs } from "@/core/audio/outputs";
import { openLayer } from "@/core/place/place";
import { listen, useListening } from "@/features/listen";
import { decimal } from "@/shared/look/format";
import { Menu } from "@/shared/ui/Menu";

/** What this window hears, on which of the browser's outputs, and how it stops. */
export function ListenMenu({ name }: { name: string }) {
  const { gaps, waiting, latencyMs } = useListening();
  const { outputs, chosen } = useOutputs();
  const items = [
    ...(outputs ?? [])
      .map((o) => ({ words: o.label, chosen: chosen === o.device, onSelect: () => void chooseOutput(o.device) }))
      .slice(0, 12),
    ...(outputs && outputs.length > 0
      ? [{ words: "Where the system says", chosen: chosen === "", onSelect: () => void chooseOutput("") }]
      : []),
    { words: "Measure the delay …", icon: <Timer size={14} />, onSelect: () => openLayer("delay") },
    { words: "Stop listening", icon: <Square size={13} />, onSelect: () => void listen({}) },
  ];
  return (
    <Menu
      trigger={
        <button
          type="button"
          className="flex min-w-0 items-center gap-1.5 rounded-md px-2 py-1 text-[13px] text-lamp-ink hover:bg-lamp/10"
        >
          <Headphones size={15} className="shrink-0" aria-hidden="true" />
          <span className="truncate max-md:sr-only">
            {waiting ? "Waiting for" : "You hear"} {name}
          </span>
          {gaps > 0 && (
            <span className="whitespace-nowrap text-quiet max-md:hidden">
              · {gaps} {gaps === 1 ? "gap" : "gaps"}
            </span>
          )}
          <ChevronDown size={14} className="shrink-0" aria-hidden="true" />
        </button>
      }
      title={outputs === null ? "This browser plays where the system says" : "Plays on"}
      items={items}
      note={latencyMs === null ? undefined : `Sound waits ${decimal(latencyMs)} ms in this window.`}
    />
  );
}
