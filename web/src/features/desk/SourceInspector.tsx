import { Trash2 } from "lucide-react";
import type { Show, Source } from "@/core/api/client";
import { SourceMeter } from "@/core/api/generated/live";
import { meters } from "@/core/meters/meters";
import { select, usePlace } from "@/core/place/place";
import { ChainSection } from "@/features/chains";
import { SpeakNow } from "@/features/gear";
import { MicrophoneFields } from "@/features/microphones";
import { decimal } from "@/shared/look/format";
import { kindOf } from "@/shared/look/sources";
import { Button } from "@/shared/ui/Button";
import { Confirm } from "@/shared/ui/Dialog";
import { InspectorPanel } from "@/shared/ui/InspectorPanel";
import { Readings } from "@/shared/ui/Readings";
import { Switch } from "@/shared/ui/Switch";
import { useChangeSource, useMoveSource } from "./changes";
import { DelayField, GainField, loudness, MoveButtons, NameField } from "./fields";
import { SourceLookField } from "./LookField";
import { ShowOnMap } from "./ShowOnMap";
import { useRemoveSource } from "./steps";

// Where a person can be asked to speak.
const speaks: Source["kind"][] = ["Microphone", "Call", "Chat"];

/** A source by itself, before any mix. */
export function SourceInspector({ show }: { show: Show }) {
  const at = usePlace((p) => p.selection);
  const source = at?.kind === "source" && show.sources.find((s) => s.id === at.source);
  if (!source) return null;
  return (
    <InspectorPanel title={source.name} of={`Source · ${kindOf(source).words}`}>
      <SourceFields show={show} source={source} />
    </InspectorPanel>
  );
}

function SourceFields({ show, source }: { show: Show; source: Source }) {
  const move = useMoveSource();
  const place = show.sources.findIndex((s) => s.id === source.id);
  const { mutate, editing } = useChangeSource();
  const remove = useRemoveSource();
  return (
    <>
      <NameField
        value={source.name}
        onEditing={editing}
        onChange={(name) => mutate({ source: source.id, change: { name } })}
      />
      <GainField
        label="Trim"
        onEditing={editing}
        value={source.trim}
        onChange={(trim) => mutate({ source: source.id, change: { trim } })}
      />
      {speaks.includes(source.kind) && source.input.type !== "soundFile" && (
        <SpeakNow
          key={`speak ${source.id}`}
          source={source}
          onTrim={(trim) => mutate({ source: source.id, change: { trim } })}
        />
      )}
      <DelayField
        label="Sync delay"
        onEditing={editing}
        value={source.syncDelay}
        onChange={(syncDelay) => mutate({ source: source.id, change: { syncDelay } })}
      />
      <Switch
        label="Upside down"
        on={source.inverted}
        onChange={(inverted) => mutate({ source: source.id, change: { inverted } })}
      />
      <Switch label="As mono" on={source.fold} onChange={(fold) => mutate({ source: source.id, change: { fold } })} />
      <Readings
        rows={[
          ["By itself", () => loudness(meters.reference(source.id))],
          ["Last 0.4 s", () => loudness(meters.source(source.id, SourceMeter.momentary))],
          ["Last 3 s", () => loudness(meters.source(source.id, SourceMeter.shortTerm))],
          ["RMS", () => `${decimal(meters.source(source.id, SourceMeter.rms))} dBFS`],
          ["Peak, last 3 s", () => `${decimal(meters.source(source.id, SourceMeter.peakHold))} dBFS`],
          ["Clipped coming in", () => times(meters.source(source.id, SourceMeter.clipsIn))],
          ["At full scale after its chain", () => times(meters.source(source.id, SourceMeter.clips))],
        ]}
      />
      <ShowOnMap selection={{ kind: "source", source: source.id }} />
      <ChainSection key={source.id} show={show} place={{ source: source.id }} />
      <MicrophoneFields source={source} />
      <div className="mt-2 flex flex-col gap-2 border-line border-t pt-2">
        <SourceLookField source={source} onChange={(look) => mutate({ source: source.id, change: { look } })} />
      </div>
      <MoveButtons
        place={place}
        count={show.sources.length}
        onMove={(index) => move.mutate({ source: source.id, index })}
      />
      <Confirm
        trigger={
          <Button tone="quiet" className="mt-2 self-start" icon={<Trash2 size={14} />}>
            Remove this source
          </Button>
        }
        title={`Remove ${source.name}?`}
        words="No listener hears it any more. Takes that were recorded keep it. Undo brings it back."
        action="Remove it"
        onConfirm={() => {
          select(null);
          remove.mutate(source.id);
        }}
      />
    </>
  );
}

/** How often, in all windows. */
function times(count: number): string {
  return `${Math.max(0, count)} times`;
}
