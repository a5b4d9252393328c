import type { Mix, Show, Source } from "@/core/api/client";
import { sendOf } from "@/core/commands/show";
import { meters } from "@/core/meters/meters";
import { usePlace } from "@/core/place/place";
import { DuckingSection } from "@/features/chains";
import { TraceSection } from "@/features/findings";
import { useListeners } from "@/features/gear";
import { panText } from "@/shared/look/format";
import { InspectorPanel } from "@/shared/ui/InspectorPanel";
import { Readings } from "@/shared/ui/Readings";
import { Switch } from "@/shared/ui/Switch";
import { ValueField } from "@/shared/ui/ValueField";
import { useChangeSend } from "./changes";
import { GainField, loudness } from "./fields";

/** What one listener gets of one source. */
export function SendInspector({ show }: { show: Show }) {
  const at = usePlace((p) => p.selection);
  const source = at?.kind === "send" && show.sources.find((s) => s.id === at.source);
  const mix = at?.kind === "send" && show.mixes.find((m) => m.id === at.mix);
  if (!source || !mix) return null;
  return (
    <InspectorPanel title={`${source.name} in ${mix.name}`} of="Send">
      <SendFields show={show} mix={mix} source={source} />
    </InspectorPanel>
  );
}

function readPan(text: string): number | null {
  const clean = text.trim().toLowerCase().replace(/[−–]/g, "-");
  if (clean === "" || clean === "c" || clean.startsWith("cent")) return 0;
  const found = /^(-?\d+(?:[.,]\d+)?)\s*%?\s*(l|left|r|right)?$/.exec(clean);
  if (!found) return null;
  const value = (Number(found[1]?.replace(",", ".")) / 100) * (found[2]?.startsWith("l") ? -1 : 1);
  return Math.abs(value) <= 1 ? value : null;
}

function SendFields({ show, mix, source }: { show: Show; mix: Mix; source: Source }) {
  const send = sendOf(mix, source.id);
  const listeners = useListeners(mix);
  const { mutate, editing } = useChangeSend();
  const set = (change: Parameters<typeof mutate>[0]["change"]) => mutate({ mix: mix.id, source: source.id, change });
  return (
    <>
      <GainField label="Send" value={send.gain} onEditing={editing} onChange={(gain) => set({ gain })} />
      <ValueField
        label="Pan"
        onEditing={editing}
        value={send.pan}
        show={panText}
        read={readPan}
        allowed="centre, or 1 to 100 % left or right"
        onChange={(pan) => set({ pan })}
        step={(p, by) => Math.max(-1, Math.min(1, Math.round((p + by * 0.05) * 100) / 100))}
      />
      <Switch label="Heard" on={send.heard} onChange={(heard) => set({ heard })} />
      <Switch label="Muted" on={send.muted} onChange={(muted) => set({ muted })} />
      <Switch
        label="Clean copy"
        on={send.tap === "BeforeChain"}
        onChange={(clean) => set({ tap: clean ? "BeforeChain" : "AfterChain" })}
      />
      <Readings
        rows={[
          ["Source by itself", () => loudness(meters.reference(source.id))],
          ["Here, last 0.4 s", () => loudness(meters.send(mix.id, source.id))],
        ]}
      />
      <TraceSection key={`trace ${mix.id} ${source.id}`} source={source.id} listeners={listeners} />
      <DuckingSection show={show} source={source.id} mix={mix.id} />
      <p className="mt-2 text-xs text-quiet">
        A clean copy is taken before the source’s chain. On its marker: ← → move it by 0.5 dB, with Shift by 0.1; 0 sets
        0 dB, M mutes, D docks.
      </p>
    </>
  );
}
