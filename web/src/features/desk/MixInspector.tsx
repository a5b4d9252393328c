import { RotateCcw, Trash2 } from "lucide-react";
import { answer, api, type Mix, type Show } from "@/core/api/client";
import { MixMeter, SourceMeter } from "@/core/api/generated/live";
import { meters } from "@/core/meters/meters";
import { tellWrong } from "@/core/notices/notices";
import { select, usePlace } from "@/core/place/place";
import { ChainSection } from "@/features/chains";
import { decimal, parseGain, signed } from "@/shared/look/format";
import { Button } from "@/shared/ui/Button";
import { Confirm } from "@/shared/ui/Dialog";
import { InspectorPanel } from "@/shared/ui/InspectorPanel";
import { Readings } from "@/shared/ui/Readings";
import { ValueField } from "@/shared/ui/ValueField";
import { useChangeMix, useMoveMix } from "./changes";
import { GainField, loudness, MoveButtons, NameField } from "./fields";
import { ShowOnMap } from "./ShowOnMap";
import { useRemoveMix } from "./steps";

/** A mix as a whole: its level, its target, how loud it is, its chain. */
export function MixInspector({ show }: { show: Show }) {
  const at = usePlace((p) => p.selection);
  const mix = at?.kind === "mix" && show.mixes.find((m) => m.id === at.mix);
  if (!mix) return null;
  return (
    <InspectorPanel title={mix.name} of="Mix">
      <MixFields show={show} mix={mix} />
    </InspectorPanel>
  );
}

function MixFields({ show, mix }: { show: Show; mix: Mix }) {
  const move = useMoveMix();
  const remove = useRemoveMix();
  const place = show.mixes.findIndex((m) => m.id === mix.id);
  const { mutate, editing } = useChangeMix();
  return (
    <>
      <NameField value={mix.name} onEditing={editing} onChange={(name) => mutate({ mix: mix.id, change: { name } })} />
      <GainField
        label="Gain"
        value={mix.gain}
        onEditing={editing}
        onChange={(gain) => mutate({ mix: mix.id, change: { gain } })}
      />
      <ValueField
        label="Target"
        onEditing={editing}
        value={mix.targetLufs}
        show={(t) => `${decimal(t)} LUFS`}
        read={(text) => {
          const value = parseGain(text);
          return typeof value === "number" && value >= -40 && value <= -6 ? value : null;
        }}
        allowed="−40 to −6 LUFS"
        onChange={(targetLufs) => mutate({ mix: mix.id, change: { targetLufs } })}
        step={(t, by) => Math.max(-40, Math.min(-6, t + by))}
      />
      <Readings
        rows={[
          ["Last 0.4 s", () => loudness(meters.mix(mix.id, SourceMeter.momentary))],
          ["Last 3 s", () => loudness(meters.mix(mix.id, SourceMeter.shortTerm))],
          ["By its markers, last 0.4 s", () => loudness(meters.mix(mix.id, MixMeter.predicted))],
          ["Measured against that", () => againstMarkers(mix.id)],
          ["Against target", () => `${signed(meters.mix(mix.id, SourceMeter.shortTerm) - mix.targetLufs)} LU`],
          ["RMS", () => `${decimal(meters.mix(mix.id, SourceMeter.rms))} dBFS`],
          ["True peak, last 3 s", () => `${decimal(meters.mix(mix.id, MixMeter.truePeakHold))} dBTP`],
          ["Correlation, left and right", () => signed(meters.mix(mix.id, MixMeter.correlation), 2)],
        ]}
      />
      <Readings
        rows={[
          ["Since measuring began", () => loudness(meters.mix(mix.id, MixMeter.integrated))],
          ["Its range", () => `${decimal(meters.mix(mix.id, MixMeter.range))} LU`],
          ["Its highest true peak", () => `${decimal(meters.mix(mix.id, MixMeter.truePeakMost))} dBTP`],
        ]}
      />
      <Button tone="quiet" className="h-7 self-start" icon={<RotateCcw size={13} />} onClick={() => void measureAnew()}>
        Begin measuring anew
      </Button>
      <ShowOnMap selection={{ kind: "mix", mix: mix.id }} />
      <ChainSection key={mix.id} show={show} place={{ mix: mix.id }} />
      <MoveButtons place={place} count={show.mixes.length} onMove={(index) => move.mutate({ mix: mix.id, index })} />
      <Confirm
        trigger={
          <Button tone="quiet" className="mt-2 self-start" icon={<Trash2 size={14} />}>
            Remove this mix
          </Button>
        }
        title={`Remove ${mix.name}?`}
        words="Its listener hears nothing any more. Takes that were recorded keep it. Undo brings it back."
        action="Remove it"
        onConfirm={() => {
          select(null);
          remove.mutate(mix.id);
        }}
      />
    </>
  );
}

/** More: two of its markers bring the same sound. Less: its chain takes some, or two cancel each other. */
function againstMarkers(mix: string): string {
  const more = meters.mix(mix, SourceMeter.momentary) - meters.mix(mix, MixMeter.predicted);
  return Number.isFinite(more) ? `${signed(more)} LU` : "–";
}

async function measureAnew() {
  try {
    await answer(api.POST("/api/meters/reset"));
  } catch (error) {
    tellWrong(error);
  }
}
