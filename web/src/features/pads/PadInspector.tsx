import { Headphones, Keyboard, Play, Square, Trash2 } from "lucide-react";
import { useEffect, useRef, useState } from "react";
import type { Pad, PadSet, Show } from "@/core/api/client";
import { tell } from "@/core/notices/notices";
import { select, usePlace } from "@/core/place/place";
import { readName } from "@/shared/forms/names";
import { decimal, gainText } from "@/shared/look/format";
import { readGain } from "@/shared/look/gains";
import { LookField } from "@/shared/look/LookField";
import { Button } from "@/shared/ui/Button";
import { Confirm } from "@/shared/ui/Dialog";
import { InspectorPanel } from "@/shared/ui/InspectorPanel";
import { Menu } from "@/shared/ui/Menu";
import { OneOf } from "@/shared/ui/OneOf";
import { ValueField } from "@/shared/ui/ValueField";
import { isPadKey, keyWords, printedOn } from "./keyboard";
import { PadAxis } from "./PadAxis";
import {
  type PadChange,
  useAddPadsSource,
  useChangePad,
  useHand,
  useLevel,
  useLoudness,
  useMovePad,
  useRemovePad,
  useSounds,
} from "./pads";
import { pressPad, releasePad } from "./playing";
import { togglePreview, usePreview } from "./preview";
import { TrimField } from "./TrimField";
import { useReported, useView } from "./view";

const plays: { value: Pad["play"]; words: string }[] = [
  { value: "Again", words: "Again from its beginning" },
  { value: "Once", words: "Once, to its end" },
  { value: "Over", words: "Over itself" },
  { value: "Loop", words: "Round, until pressed again" },
  { value: "Held", words: "While it is held" },
];

/** A pad: its sound, its key, how it is played and how loud. */
export function PadInspector({ show }: { show: Show }) {
  const at = usePlace((p) => p.selection);
  const set = at?.kind === "pad" ? show.padSets.find((s) => s.pads.some((p) => p.id === at.pad)) : undefined;
  const pad = at?.kind === "pad" ? set?.pads.find((p) => p.id === at.pad) : undefined;
  if (!set || !pad) return null;
  return (
    <InspectorPanel title={pad.name} of={`Pad · ${set.name}`}>
      <PadFields key={pad.id} show={show} set={set} pad={pad} />
    </InspectorPanel>
  );
}

function PadFields({ show, set, pad }: { show: Show; set: PadSet; pad: Pad }) {
  const { mutate, editing } = useChangePad();
  const { silent } = useHand(show);
  const sound = useSounds([pad]).get(pad.sound);
  const loudness = useLoudness(show, pad);
  const level = useLevel();
  const move = useMovePad();
  const remove = useRemovePad();
  const addSource = useAddPadsSource();
  const isPreviewed = usePreview((p) => p.pad === pad.id);
  const change = (to: PadChange) => mutate({ pad: pad.id, change: to });
  const ways = show.sources.filter((s) => s.input.type === "pads");
  const groups = [...new Set(show.padSets.flatMap((s) => s.pads.map((p) => p.group)))].filter((g) => g !== "");
  const why = silent.get(pad.id);
  const ms = (label: string, value: number, to: (value: number) => PadChange, most: number) => (
    <ValueField
      label={label}
      value={value}
      show={(v) => `${v >= 1000 ? `${(v / 1000).toFixed(1)} s` : `${Math.round(v)} ms`}`}
      read={(text) => readTime(text, most)}
      allowed={`0 ms to ${most / 1000} s`}
      step={(v, by) => Math.min(most, Math.max(0, v + by * 10))}
      onEditing={editing}
      onChange={(v) => change(to(v))}
    />
  );
  return (
    <>
      {why && (
        <p role="status" className="rounded-md border border-wrong px-2 py-1.5 text-xs text-wrong">
          {why}
        </p>
      )}
      <div className="flex gap-1.5">
        <Button
          className="grow"
          icon={<Play size={13} />}
          title="Plays for everybody who hears it"
          onPointerDown={(e) => {
            e.currentTarget.setPointerCapture(e.pointerId);
            pressPad(show.id, pad.id, "inspector");
          }}
          onPointerUp={() => releasePad("inspector")}
          onPointerCancel={() => releasePad("inspector")}
          onKeyDown={(e) => {
            if (!e.repeat && (e.key === "Enter" || e.key === " ")) pressPad(show.id, pad.id, "inspector");
          }}
          onKeyUp={() => releasePad("inspector")}
        >
          Play for all
        </Button>
        <Button
          className="grow"
          tone={isPreviewed ? "lit" : "plain"}
          aria-pressed={isPreviewed}
          icon={isPreviewed ? <Square size={12} fill="currentColor" /> : <Headphones size={13} />}
          title="For this window alone"
          onClick={() => togglePreview(show.id, pad.id)}
        >
          For me alone
        </Button>
      </div>
      {sound && <TrimField pad={pad} sound={sound} onChange={change} />}
      <ValueField
        label="Name"
        value={pad.name}
        show={(v) => v}
        read={readName}
        allowed="1 to 60 characters"
        onEditing={editing}
        onChange={(name) => change({ name })}
      />
      <KeyField set={set} pad={pad} />
      <div className="grid grid-cols-[5.5rem_minmax(0,1fr)] items-center gap-x-2">
        <span className="text-[13px] text-quiet">Plays</span>
        <OneOf label="Plays" value={pad.play} options={plays} onChange={(play) => change({ play })} />
      </div>
      <section aria-label="How loud" className="mt-1 flex flex-col gap-2 border-line border-t pt-2">
        <div className="flex items-center gap-1.5">
          <div className="grow">
            <ValueField
              label="Gain"
              value={pad.gain}
              show={gainText}
              read={readGain}
              allowed="−120 to +12 dB, or off"
              step={(v, by) => Math.min(12, Math.max(-60, (v === "off" ? -60 : v) + by * 0.5))}
              onEditing={editing}
              onChange={(gain) => change({ gain })}
            />
          </div>
          <Menu
            trigger={<Button disabled={level.isPending}>{level.isPending ? "Measuring …" : "Level"}</Button>}
            items={[
              { wish: "ABitUnder" as const, words: "A bit under the voice" },
              { wish: "AsLoudAsTheVoice" as const, words: "As loud as the voice" },
              { wish: "AJingle" as const, words: "As a jingle, by itself" },
            ].map(({ wish, words }) => ({
              words,
              onSelect: () => level.mutate({ set: set.id, wish, pads: [pad.id] }),
            }))}
          />
        </div>
        <PadAxis show={show} pad={pad} loudness={loudness} />
        {loudness && loudness.momentary !== null && loudness.peak !== null && (
          <p className="text-xs text-quiet tabular-nums">
            Loudest moment {decimal(loudness.momentary)} LUFS, peak {decimal(loudness.peak)} dBFS, through its source.
          </p>
        )}
      </section>
      <section aria-label="While it sounds" className="flex flex-col gap-2 border-line border-t pt-2">
        {ms("Fades in", pad.fadeIn, (fadeIn) => ({ fadeIn }), 30_000)}
        {ms("Fades out", pad.fadeOut, (fadeOut) => ({ fadeOut }), 30_000)}
        <ValueField
          label="Dims all else"
          value={pad.dim}
          show={(v) => (v === 0 ? "not" : `by ${decimal(v)} dB`)}
          read={(text) => readDim(text)}
          allowed="0 to 60 dB, or not"
          step={(v, by) => Math.min(60, Math.max(0, v + by))}
          onEditing={editing}
          onChange={(dim) => change({ dim })}
        />
        <GroupField value={pad.group} groups={groups} editing={editing} onChange={(group) => change({ group })} />
        <div className="grid grid-cols-[5.5rem_minmax(0,1fr)] items-center gap-x-2">
          <span className="text-[13px] text-quiet">Through</span>
          <OneOf
            label="Heard through"
            value={pad.source}
            empty="a source that is gone"
            options={[
              ...ways.map((s) => ({ value: s.id, words: s.name })),
              { value: "", words: "A new source for pads" },
            ]}
            onChange={(source) => {
              if (source !== "") return change({ source });
              addSource.mutate(undefined, {
                onSuccess: (now) => {
                  const made = now.sources.at(-1);
                  if (made?.input.type === "pads") change({ source: made.id });
                },
              });
            }}
          />
        </div>
      </section>
      <section aria-label="Look" className="flex flex-col gap-2 border-line border-t pt-2">
        <LookField look={pad.look} onChange={(look) => change({ look })} />
      </section>
      {show.padSets.length > 1 && (
        <div className="grid grid-cols-[5.5rem_minmax(0,1fr)] items-center gap-x-2">
          <span className="text-[13px] text-quiet">In the set</span>
          <OneOf
            label="In the set"
            value={set.id}
            options={show.padSets.map((s) => ({ value: s.id, words: s.name }))}
            onChange={(to) => move.mutate({ pad: pad.id, set: to })}
          />
        </div>
      )}
      <Confirm
        trigger={
          <Button tone="quiet" className="mt-1 self-start" icon={<Trash2 size={14} />}>
            Remove this pad
          </Button>
        }
        title={`Remove ${pad.name}?`}
        words="Where it sounds, it fades out. Undo brings it back."
        action="Remove it"
        onConfirm={() => {
          select(null);
          remove.mutate(pad.id);
        }}
      />
    </>
  );
}

/** The key on which a pad lies: pressed to be chosen. */
function KeyField({ set, pad }: { set: PadSet; pad: Pad }) {
  const reported = useReported();
  const layout = useView((v) => v.layout);
  const move = useMovePad();
  const [asks, setAsks] = useState(false);
  const button = useRef<HTMLButtonElement>(null);
  const lay = useRef((_: string) => {});
  lay.current = (key: string) => {
    const other = set.pads.find((p) => p.key !== "" && p.key === key && p.id !== pad.id);
    move.mutate(
      { pad: pad.id, set: set.id, index: set.pads.findIndex((p) => p.id === pad.id), key },
      {
        onSuccess: () => {
          if (other) tell("done", `${pad.name} and ${other.name} have changed places.`, "Undo takes it back.");
        },
      },
    );
  };
  useEffect(() => {
    if (!asks) return;
    useView.setState({ asksForKey: true });
    const hear = (e: KeyboardEvent) => {
      if (e.key === "Tab" || e.ctrlKey || e.metaKey || e.altKey) return;
      e.preventDefault();
      e.stopPropagation();
      if (e.repeat) return;
      if (e.key !== "Escape" && !isPadKey(e.code)) {
        tell(
          "wrong",
          "No pad can lie on this key.",
          "Letters, digits and signs of the writing rows, and the number block.",
        );
        return;
      }
      setAsks(false);
      if (e.key !== "Escape") lay.current(e.code);
      button.current?.focus();
    };
    window.addEventListener("keydown", hear, { capture: true });
    return () => {
      useView.setState({ asksForKey: false });
      window.removeEventListener("keydown", hear, { capture: true });
    };
  }, [asks]);
  const printed = pad.key === "" ? "" : keyWords(pad.key, printedOn(pad.key, reported, layout));
  return (
    <div className="grid grid-cols-[5.5rem_minmax(0,1fr)] items-center gap-x-2">
      <span className="text-[13px] text-quiet">Key</span>
      <div className="flex items-center gap-1.5">
        <button
          ref={button}
          type="button"
          aria-label={asks ? "Press the key" : `Key: ${printed || "none"}. Choose another`}
          onClick={() => setAsks(!asks)}
          onBlur={() => setAsks(false)}
          className={`flex h-8 min-w-0 grow items-center gap-1.5 rounded-md border px-2 text-left text-[13px] ${asks ? "border-lamp bg-lamp/10" : "border-line bg-ground hover:border-strong"}`}
        >
          <Keyboard size={14} className="shrink-0 text-quiet" aria-hidden="true" />
          <span className="truncate">{asks ? "Press the key …" : printed || "none"}</span>
        </button>
        {pad.key !== "" && (
          <Button small tone="quiet" className="h-8" onClick={() => lay.current("")}>
            None
          </Button>
        )}
      </div>
    </div>
  );
}

function GroupField(props: {
  value: string;
  groups: string[];
  editing: (on: boolean) => void;
  onChange: (group: string) => void;
}) {
  const { value, groups, editing, onChange } = props;
  return (
    <>
      <ValueField
        label="Group"
        value={value}
        show={(v) => v}
        read={(text) => (text.trim().length <= 60 ? text.trim() : null)}
        allowed="at most 60 characters, or nothing"
        onEditing={editing}
        onChange={onChange}
      />
      <p className="text-xs text-quiet">
        {value === ""
          ? groups.length > 0
            ? `In a group, one that begins ends the others. There are: ${groups.join(", ")}.`
            : "In a group, one that begins ends the others."
          : `It ends the others of “${value}” when it begins.`}
      </p>
    </>
  );
}

function readTime(text: string, most: number): number | null {
  const found = /^(\d+(?:[.,]\d+)?)\s*(ms|s)?$/.exec(text.trim().toLowerCase());
  if (!found) return null;
  const value = Number((found[1] ?? "").replace(",", ".")) * (found[2] === "s" ? 1000 : 1);
  return value <= most ? value : null;
}

function readDim(text: string): number | null {
  const clean = text
    .trim()
    .toLowerCase()
    .replace(/^by\s*/, "")
    .replace(/\s*db$/, "")
    .replace(",", ".");
  if (clean === "" || clean === "not") return 0;
  const value = Number(clean);
  return Number.isFinite(value) && value >= 0 && value <= 60 ? Math.round(value * 10) / 10 : null;
}
