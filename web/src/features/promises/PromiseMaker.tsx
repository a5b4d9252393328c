import { type ReactNode, useState } from "react";
import type { Promises, Show, ShowPromise } from "@/core/api/client";
import { decimal } from "@/shared/look/format";
import { Button } from "@/shared/ui/Button";
import { OneOf } from "@/shared/ui/OneOf";
import { ValueField } from "@/shared/ui/ValueField";
import { type Kind, kinds, newPromise } from "./kinds";

interface Props {
  /** The one that is changed; left out: a new one. */
  promise?: ShowPromise;
  promises: Promises;
  show: Show;
  words: string;
  busy: boolean;
  onDone: (promise: ShowPromise) => void;
  onCancel?: () => void;
  onRemove?: () => void;
}

/** A promise as a sentence with choices in it. */
export function PromiseMaker({ promise, promises, show, words, busy, onDone, onCancel, onRemove }: Props) {
  const [draft, setDraft] = useState<ShowPromise>(() => promise ?? newPromise("neverReaches", promises, show));
  const choose = (kind: Kind) => setDraft(newPromise(kind, promises, show, draft));
  return (
    <div>
      <div className="mb-2">
        <OneOf
          label="What is promised"
          value={draft.kind as Kind}
          options={kinds.map(({ kind, words, group }) => ({ value: kind, words, group }))}
          onChange={choose}
        />
      </div>
      <p className="flex flex-wrap items-center gap-1.5 leading-8">
        <Sentence draft={draft} setDraft={setDraft} promises={promises} show={show} />
      </p>
      <div className="mt-2 flex flex-wrap gap-2">
        <Button tone="lamp" className="h-7" disabled={busy} onClick={() => onDone(draft)}>
          {words}
        </Button>
        {onCancel && (
          <Button className="h-7" onClick={onCancel}>
            Leave it
          </Button>
        )}
        {onRemove && (
          <Button tone="quiet" className="h-7" disabled={busy} onClick={onRemove}>
            Promise it no longer
          </Button>
        )}
      </div>
    </div>
  );
}

interface SentenceProps {
  draft: ShowPromise;
  setDraft: (draft: ShowPromise) => void;
  promises: Promises;
  show: Show;
}

function Sentence({ draft, setDraft, promises, show }: SentenceProps): ReactNode {
  const sources = show.sources.map((s) => ({ value: s.id, words: s.name }));
  const mixes = show.mixes.map((m) => ({ value: m.id, words: m.name }));
  const listeners = promises.listeners.map((l) => ({ value: l.point, words: l.name, group: groupOf(l.point) }));
  const source = (value: string, then: (id: string) => ShowPromise, label = "Source") => (
    <OneOf label={label} value={value} empty="nothing" options={sources} onChange={(id) => setDraft(then(id))} />
  );
  const listener = (value: string, then: (point: string) => ShowPromise) => (
    <OneOf label="Listener" value={value} empty="nobody" options={listeners} onChange={(p) => setDraft(then(p))} />
  );
  const mix = (value: string, then: (id: string) => ShowPromise) => (
    <OneOf label="Mix" value={value} empty="no mix" options={mixes} onChange={(id) => setDraft(then(id))} />
  );
  switch (draft.kind) {
    case "reaches":
    case "neverReaches":
      return (
        <>
          {source(draft.source, (id) => ({ ...draft, source: id }))}
          {draft.kind === "reaches" ? "reaches" : "never reaches"}
          {listener(draft.listener, (point) => ({ ...draft, listener: point }))}
        </>
      );
    case "heardOnce":
      return (
        <>
          {listener(draft.listener, (point) => ({ ...draft, listener: point }))} hears
          <OneOf
            label="Source"
            value={draft.source ?? ""}
            options={[{ value: "", words: "every source" }, ...sources]}
            onChange={(id) => setDraft({ ...draft, source: id || undefined })}
          />
          once
        </>
      );
    case "neverHearsHimself":
      return <>{source(draft.source, (id) => ({ ...draft, source: id }))} never hears itself</>;
    case "ownTrack":
      return <>{source(draft.source, (id) => ({ ...draft, source: id }))} is on a track of its own, alone</>;
    case "speechOverBed":
      return (
        <>
          In {mix(draft.mix, (id) => ({ ...draft, mix: id }))}
          <OneOf
            label="Speech"
            value={draft.speech ?? ""}
            options={[{ value: "", words: "speech" }, ...sources]}
            onChange={(id) => setDraft({ ...draft, speech: id || undefined })}
          />
          is at least
          <Figure
            label="At least, LU"
            value={draft.atLeast}
            unit="LU"
            range={[0, 40]}
            onChange={(atLeast) => setDraft({ ...draft, atLeast })}
          />
          over
          <OneOf
            label="What lies under it"
            value={draft.bed ?? ""}
            options={[{ value: "", words: "music, games and programs" }, ...sources]}
            onChange={(id) => setDraft({ ...draft, bed: id || undefined })}
          />
          while both sound
        </>
      );
    case "loudnessInRange":
      return (
        <>
          The loudness of {mix(draft.mix, (id) => ({ ...draft, mix: id }))} is from
          <Figure
            label="From, LUFS"
            value={draft.from}
            unit="LUFS"
            range={[-60, 0]}
            onChange={(from) => setDraft({ ...draft, from })}
          />
          to
          <Figure
            label="To, LUFS"
            value={draft.to}
            unit="LUFS"
            range={[-60, 0]}
            onChange={(to) => setDraft({ ...draft, to })}
          />
        </>
      );
    case "truePeakUnder":
      return (
        <>
          The true peak of {mix(draft.mix, (id) => ({ ...draft, mix: id }))} stays under
          <Figure
            label="Under, dBTP"
            value={draft.ceiling}
            unit="dBTP"
            range={[-20, 0]}
            onChange={(ceiling) => setDraft({ ...draft, ceiling })}
          />
        </>
      );
    case "inStep":
      return (
        <>
          {source(draft.source, (id) => ({ ...draft, source: id }))} comes to
          {listener(draft.listener, (point) => ({ ...draft, listener: point }))}
          <Figure
            label="How late the picture is, ms"
            value={draft.picture}
            unit="ms"
            range={[0, 4000]}
            onChange={(picture) => setDraft({ ...draft, picture })}
          />
          late, as the picture does, within
          <Figure
            label="Within, ms"
            value={draft.within}
            unit="ms"
            range={[1, 500]}
            onChange={(within) => setDraft({ ...draft, within })}
          />
        </>
      );
    case "staysOnAir":
      return (
        <>
          <OneOf
            label="Stream"
            value={draft.stream}
            empty="no stream"
            options={show.streams.map((s) => ({ value: s.id, words: s.name }))}
            onChange={(stream) => setDraft({ ...draft, stream })}
          />
          stays on air from its start to its end
        </>
      );
    case "defaultStays":
      return (
        <>
          The default
          <OneOf
            label="Default"
            value={draft.role}
            options={promises.defaults.map((d) => ({ value: d.role, words: roles[d.role] }))}
            onChange={(role) =>
              setDraft({ ...draft, role, end: promises.defaults.find((d) => d.role === role)?.end ?? draft.end })
            }
          />
          stays {promises.defaults.find((d) => d.end === draft.end)?.name ?? "what it was"}
        </>
      );
    default:
      return null;
  }
}

const roles = {
  Playback: "playback",
  Recording: "recording",
  CallsPlayback: "calls’ playback",
  CallsRecording: "calls’ recording",
} as const;

function groupOf(point: string): string {
  return point.startsWith("mix/") ? "Mixes" : point.startsWith("app/") ? "Programs" : "Devices";
}

interface FigureProps {
  label: string;
  value: number;
  unit: string;
  range: readonly [number, number];
  onChange: (value: number) => void;
}

/** A number in a sentence. */
function Figure({ label, value, unit, range: [least, most], onChange }: FigureProps) {
  const read = (text: string) => {
    const clean = text
      .trim()
      .replace(/[−–]/g, "-")
      .replace(",", ".")
      .replace(/\s*(LUFS|LU|dBTP|ms)$/i, "");
    const number = clean === "" ? Number.NaN : Number(clean);
    return number >= least && number <= most ? number : null;
  };
  const clamped = (next: number) => Math.min(most, Math.max(least, next));
  return (
    <ValueField
      bare
      label={label}
      value={value}
      show={(v) => `${decimal(v, Number.isInteger(v) ? 0 : 1)} ${unit}`}
      read={read}
      allowed={`${decimal(least, 0)} to ${decimal(most, 0)} ${unit}`}
      step={(v, by) => clamped(v + by)}
      onChange={onChange}
      className="w-24"
    />
  );
}
