import { ArrowDown, ArrowUp, RotateCcw, Trash2, X } from "lucide-react";
import { type ReactNode, useEffect, useRef } from "react";
import { answer, api, type Gain, type Mix, type Show, type Source } from "../api/client";
import { ChainSection, DuckingSection } from "../chains/ChainSection";
import { MixValue, Value } from "../live/meterFrame";
import { meters, onPaint } from "../live/meters";
import { decimal, gainText, panText, parseGain, signed } from "../look/format";
import { iconOf, icons, kindOf, SourceSign, shapeNames, shapes, sourceColors } from "../look/sources";
import { MicrophoneFields } from "../microphones/MicrophoneState";
import { useChangeMix, useChangeSend, useChangeSource, useMoveMix, useMoveSource } from "../show/changes";
import { sendOf, useRemoveMix, useRemoveSource } from "../show/show";
import { Button } from "../ui/Button";
import { Confirm } from "../ui/Dialog";
import { tellWrong } from "../ui/notices";
import { Switch } from "../ui/Switch";
import { ValueField } from "../ui/ValueField";
import { readGain } from "./gains";
import { select, useDesk } from "./selection";

const gainAllowed = "−120 to +12 dB, or off";

/** The numbers of what is selected, to read and to type. */
export function Inspector({ show }: { show: Show }) {
  const selection = useDesk((s) => s.selection);
  const source = selection && "source" in selection ? show.sources.find((s) => s.id === selection.source) : undefined;
  const mix = selection && "mix" in selection ? show.mixes.find((m) => m.id === selection.mix) : undefined;
  if (selection?.kind === "send" && source && mix) {
    return (
      <Panel title={`${source.name} in ${mix.name}`} of="Send">
        <SendFields show={show} mix={mix} source={source} />
      </Panel>
    );
  }
  if (selection?.kind === "source" && source) {
    return (
      <Panel title={source.name} of={`Source · ${kindOf(source).words}`}>
        <SourceFields show={show} source={source} />
      </Panel>
    );
  }
  if (selection?.kind === "mix" && mix) {
    return (
      <Panel title={mix.name} of="Mix">
        <MixFields show={show} mix={mix} />
      </Panel>
    );
  }
  return null;
}

function Panel({ title, of, children }: { title: string; of: string; children: ReactNode }) {
  return (
    <aside
      aria-label={`Inspector: ${title}`}
      className="w-72 shrink-0 overflow-auto border-line bg-surface p-3 max-md:fixed max-md:inset-x-0 max-md:bottom-14 max-md:z-30 max-md:max-h-[55vh] max-md:w-auto max-md:border-t max-md:shadow-2xl md:border-l"
      onKeyDown={(e) => e.key === "Escape" && e.target === e.currentTarget && select(null)}
    >
      <div className="mb-3 flex items-start gap-2">
        <div className="min-w-0 grow">
          <p className="text-xs text-quiet">{of}</p>
          <h2 className="font-semibold break-words">{title}</h2>
        </div>
        <Button
          tone="quiet"
          square
          className="-mt-1 -mr-1"
          aria-label="Close the inspector"
          icon={<X size={15} />}
          onClick={() => select(null)}
        />
      </div>
      <div className="flex flex-col gap-2">{children}</div>
    </aside>
  );
}

interface FieldProps<T> {
  value: T;
  onChange: (value: T) => void;
  onEditing: (editing: boolean) => void;
}

function GainField({ label, ...rest }: FieldProps<Gain> & { label: string }) {
  return (
    <ValueField
      {...rest}
      label={label}
      show={gainText}
      read={readGain}
      allowed={gainAllowed}
      step={(g, by) => Math.min(12, Math.round(((g === "off" ? -60 : g) + by * 0.5) * 10) / 10)}
    />
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
      <DuckingSection show={show} source={source.id} mix={mix.id} />
      <p className="mt-2 text-xs text-quiet">
        A clean copy is taken before the source’s chain. On its marker: ← → move it by 0.5 dB, with Shift by 0.1; 0 sets
        0 dB, M mutes, D docks.
      </p>
    </>
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
      <Readings
        rows={[
          ["By itself", () => loudness(meters.reference(source.id))],
          ["Last 0.4 s", () => loudness(meters.source(source.id, Value.momentary))],
          ["Last 3 s", () => loudness(meters.source(source.id, Value.shortTerm))],
          ["RMS", () => `${decimal(meters.source(source.id, Value.rms))} dBFS`],
          ["Peak, last 3 s", () => `${decimal(meters.source(source.id, Value.peakHold))} dBFS`],
          ["Clipped coming in", () => times(meters.source(source.id, Value.clipsIn))],
          ["At full scale after its chain", () => times(meters.source(source.id, Value.clips))],
        ]}
      />
      <ChainSection key={source.id} show={show} place={{ source: source.id }} />
      <MicrophoneFields source={source} />
      <div className="mt-2 flex flex-col gap-2 border-line border-t pt-2">
        <LookField source={source} onChange={(look) => mutate({ source: source.id, change: { look } })} />
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
          ["Last 0.4 s", () => loudness(meters.mix(mix.id, Value.momentary))],
          ["Last 3 s", () => loudness(meters.mix(mix.id, Value.shortTerm))],
          ["Against target", () => `${signed(meters.mix(mix.id, Value.shortTerm) - mix.targetLufs)} LU`],
          ["RMS", () => `${decimal(meters.mix(mix.id, Value.rms))} dBFS`],
          ["True peak, last 3 s", () => `${decimal(meters.mix(mix.id, MixValue.truePeakHold))} dBTP`],
          ["Correlation, left and right", () => signed(meters.mix(mix.id, MixValue.correlation), 2)],
        ]}
      />
      <Readings
        rows={[
          ["Since measuring began", () => loudness(meters.mix(mix.id, MixValue.integrated))],
          ["Its range", () => `${decimal(meters.mix(mix.id, MixValue.range))} LU`],
          ["Its highest true peak", () => `${decimal(meters.mix(mix.id, MixValue.truePeakMost))} dBTP`],
        ]}
      />
      <Button tone="quiet" className="h-7 self-start" icon={<RotateCcw size={13} />} onClick={() => void measureAnew()}>
        Begin measuring anew
      </Button>
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

function MoveButtons({ place, count, onMove }: { place: number; count: number; onMove: (index: number) => void }) {
  return (
    <div className="mt-2 flex items-center gap-1 border-line border-t pt-2">
      <span className="grow text-xs text-quiet">
        Place {place + 1} of {count}
      </span>
      <Button
        tone="quiet"
        className="h-7"
        icon={<ArrowUp size={14} />}
        disabled={place <= 0}
        onClick={() => onMove(place - 1)}
      >
        Up
      </Button>
      <Button
        tone="quiet"
        className="h-7"
        icon={<ArrowDown size={14} />}
        disabled={place >= count - 1}
        onClick={() => onMove(place + 1)}
      >
        Down
      </Button>
    </div>
  );
}

function NameField(props: FieldProps<string>) {
  return (
    <ValueField
      {...props}
      label="Name"
      show={(v) => v}
      read={(text) => (text.trim().length > 0 && text.trim().length <= 60 ? text.trim() : null)}
      allowed="1 to 60 characters"
    />
  );
}

function LookField({ source, onChange }: { source: Source; onChange: (look: Source["look"]) => void }) {
  return (
    <>
      <div className="grid grid-cols-[5.5rem_minmax(0,1fr)] items-start gap-x-2">
        <span className="text-[13px] text-quiet">Colour</span>
        <div className="flex flex-wrap gap-1">
          {sourceColors.map((color) => (
            <button
              key={color}
              type="button"
              aria-label={`Colour ${color + 1}`}
              aria-pressed={source.look.color === color}
              className={`h-5 w-5 rounded border ${source.look.color === color ? "border-ink ring-1 ring-ink" : "border-transparent"}`}
              style={{ background: `var(--source-${color})` }}
              onClick={() => onChange({ ...source.look, color })}
            />
          ))}
        </div>
      </div>
      <div className="grid grid-cols-[5.5rem_minmax(0,1fr)] items-start gap-x-2">
        <span className="text-[13px] text-quiet">Shape</span>
        <div className="flex flex-wrap gap-1">
          {shapes.map((path, shape) => (
            <button
              key={path}
              type="button"
              aria-label={shapeNames[shape]}
              aria-pressed={source.look.shape === shape}
              className={`grid h-5 w-5 place-items-center rounded border ${source.look.shape === shape ? "border-ink ring-1 ring-ink" : "border-line"}`}
              onClick={() => onChange({ ...source.look, shape })}
            >
              <SourceSign source={{ look: { ...source.look, shape } }} size={12} />
            </button>
          ))}
        </div>
      </div>
      <div className="grid grid-cols-[5.5rem_minmax(0,1fr)] items-start gap-x-2">
        <span className="text-[13px] text-quiet">Icon</span>
        <div className="flex flex-wrap gap-1">
          {icons.map(([name, Icon]) => (
            <button
              key={name}
              type="button"
              aria-label={`Icon: ${name.toLowerCase()}`}
              aria-pressed={iconOf(source) === Icon}
              className={`grid h-5 w-5 place-items-center rounded border ${iconOf(source) === Icon ? "border-ink ring-1 ring-ink" : "border-line"}`}
              onClick={() => onChange({ ...source.look, icon: name })}
            >
              <Icon size={12} />
            </button>
          ))}
        </div>
      </div>
    </>
  );
}

/** For every mix and source, in all windows. */
function times(count: number): string {
  return `${Math.max(0, count)} times`;
}

async function measureAnew() {
  try {
    await answer(api.POST("/api/meters/reset"));
  } catch (error) {
    tellWrong(error);
  }
}

function loudness(lufs: number): string {
  return `${decimal(lufs)} LUFS`;
}

/** Measured values, written straight to the page a few times a second. */
function Readings({ rows }: { rows: [string, () => string][] }) {
  const list = useRef<HTMLDListElement>(null);
  const newest = useRef(rows);
  newest.current = rows;
  useEffect(() => {
    let written = 0;
    return onPaint((now) => {
      if (now - written < 200) return;
      written = now;
      list.current?.querySelectorAll("dd").forEach((dd, i) => {
        dd.textContent = newest.current[i]?.[1]() ?? "";
      });
    });
  }, []);
  return (
    <dl ref={list} className="mt-2 grid grid-cols-[1fr_auto] gap-y-1 border-line border-t pt-2 text-xs">
      {rows.map(([name]) => (
        <div key={name} className="contents">
          <dt className="text-quiet">{name}</dt>
          <dd className="text-right">–</dd>
        </div>
      ))}
    </dl>
  );
}
