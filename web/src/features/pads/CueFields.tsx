import { ArrowDown, ArrowUp, Plus, RefreshCw, Trash2, X } from "lucide-react";
import { useId, useState } from "react";
import type { Cue, CueAct, Show } from "@/core/api/client";
import { readName } from "@/shared/forms/names";
import { gainText, parseGain } from "@/shared/look/format";
import { Button } from "@/shared/ui/Button";
import { Menu } from "@/shared/ui/Menu";
import { OneOf } from "@/shared/ui/OneOf";
import { ValueField } from "@/shared/ui/ValueField";
import { otherItems, padItems } from "./cueItems";
import { type CueChange, useChangeCue, useMoveCue, useRemoveCue } from "./cues";
import { actWords, levelsNow, seconds } from "./cueWords";

const begins: { value: Cue["begin"]; words: string }[] = [
  { value: "ByHand", words: "By hand" },
  { value: "WithPrevious", words: "Behind the beginning before" },
  { value: "AfterPrevious", words: "Behind the end before" },
];

/** What a cue is called, when it begins, and what it does. */
export function CueFields(props: { show: Show; cue: Cue; index: number; onNext: () => void; onGone: () => void }) {
  const { show, cue, index, onNext, onGone } = props;
  const { mutate, editing } = useChangeCue();
  const move = useMoveCue();
  const remove = useRemoveCue();
  const id = useId();
  const change = (to: CueChange) => mutate({ cue: cue.id, change: to });
  const setAct = (at: number, act: CueAct | null) =>
    change({ acts: cue.acts.flatMap((a, i) => (i !== at ? [a] : act ? [act] : [])) });
  return (
    <div className="flex flex-col gap-2 bg-surface p-3">
      <ValueField
        label="Name"
        value={cue.name}
        show={(v) => v}
        read={readName}
        allowed="1 to 60 characters"
        onEditing={editing}
        onChange={(name) => change({ name })}
      />
      <label htmlFor={id} className="text-[13px] text-quiet">
        Notes
      </label>
      <Notes id={id} value={cue.notes} onChange={(notes) => change({ notes })} />
      <div className="grid grid-cols-[5.5rem_minmax(0,1fr)] items-center gap-x-2">
        <span className="text-[13px] text-quiet">Begins</span>
        <OneOf label="Begins" value={cue.begin} options={begins} onChange={(begin) => change({ begin })} />
      </div>
      {cue.begin !== "ByHand" && (
        <ValueField
          label="Waits"
          value={cue.wait}
          show={seconds}
          read={(text) => readSeconds(text, 3_600_000)}
          allowed="0 to 3600 s"
          step={(v, by) => Math.max(0, v + by * 500)}
          onEditing={editing}
          onChange={(wait) => change({ wait })}
        />
      )}
      <ul aria-label={`What ${cue.name} does`} className="flex flex-col gap-1">
        {cue.acts.map((act, i) => (
          // biome-ignore lint/suspicious/noArrayIndexKey: two acts can be the same
          <li key={i} className="flex items-center gap-1.5">
            <span className="min-w-0 grow truncate text-[13px]" title={actWords(act, show)}>
              {actWords("over" in act ? { ...act, over: 0 } : act, show)}
            </span>
            {"group" in act && (
              <ValueField
                bare
                label="Over how long"
                value={typeof act.fade === "number" ? act.fade : null}
                show={(v) => (v === null ? "its fade" : seconds(v))}
                read={(text) => (/^its/.test(text.trim()) || text.trim() === "" ? null : readSeconds(text, 600_000))}
                allowed="0 to 600 s"
                className="w-18"
                onEditing={editing}
                onChange={(fade) => setAct(i, { ...act, fade })}
              />
            )}
            {"gain" in act && (
              <>
                <ValueField
                  bare
                  label="To which level"
                  value={act.gain}
                  show={gainText}
                  read={readLevel}
                  allowed="−120 to +12 dB, or off"
                  className="w-18"
                  onEditing={editing}
                  onChange={(gain) => setAct(i, { ...act, gain })}
                />
                <ValueField
                  bare
                  label="Over how long"
                  value={act.over ?? 0}
                  show={seconds}
                  read={(text) => readSeconds(text, 600_000)}
                  allowed="0 to 600 s"
                  className="w-14"
                  onEditing={editing}
                  onChange={(over) => setAct(i, { ...act, over })}
                />
              </>
            )}
            {("levels" in act || "on" in act) && (
              <ValueField
                bare
                label="Over how long"
                value={act.over ?? 0}
                show={seconds}
                read={(text) => readSeconds(text, 600_000)}
                allowed="0 to 600 s"
                className="w-14"
                onEditing={editing}
                onChange={(over) => setAct(i, { ...act, over })}
              />
            )}
            {"levels" in act && (
              <Button
                square
                small
                tone="quiet"
                className="h-7"
                aria-label="Take these levels as they are now"
                title="Take these levels as they are now"
                icon={<RefreshCw size={13} />}
                onClick={() => {
                  const now = levelsNow(show);
                  const meant = new Set(act.levels.map((l) => `${l.mix} ${l.source}`));
                  setAct(i, { ...act, levels: now.filter((l) => meant.has(`${l.mix} ${l.source}`)) });
                }}
              />
            )}
            {"words" in act && (
              <ValueField
                bare
                label="Words of the mark"
                value={act.words ?? ""}
                show={(v) => (v === "" ? "the cue’s name" : v)}
                read={readMark}
                allowed="at most 60 characters"
                className="w-32"
                onEditing={editing}
                onChange={(words) => setAct(i, { ...act, words })}
              />
            )}
            <Button
              square
              small
              tone="quiet"
              className="h-7"
              aria-label={`Leave out: ${actWords(act, show)}`}
              icon={<X size={13} />}
              onClick={() => setAct(i, null)}
            />
          </li>
        ))}
      </ul>
      <div className="flex flex-wrap gap-1.5">
        <Menu
          disabled={cue.acts.length >= 16}
          trigger={
            <Button small className="h-7 px-2" icon={<Plus size={13} />}>
              And …
            </Button>
          }
          items={[
            ...padItems(show, (pad) => change({ acts: [...cue.acts, { type: "play", pad }] })),
            {
              words: "End all pads",
              group: "End",
              onSelect: () => change({ acts: [...cue.acts, { type: "stop", group: "" }] }),
            },
            ...otherItems(show, (act) => change({ acts: [...cue.acts, act] })),
            ...show.padSets
              .flatMap((s) => s.pads)
              .map((pad) => ({
                words: `End ${pad.name}`,
                group: "End",
                onSelect: () =>
                  change({ acts: [...cue.acts, { type: "stop" as const, group: "", pad: pad.id, fade: 2000 }] }),
              })),
            ...show.padSets
              .flatMap((s) => s.pads)
              .map((pad) => ({
                words: `Fade ${pad.name}`,
                group: "Fade",
                onSelect: () =>
                  change({ acts: [...cue.acts, { type: "turn" as const, pad: pad.id, gain: -20, over: 3000 }] }),
              })),
          ]}
        />
        <Button small className="h-7 px-2" onClick={onNext}>
          Next is this
        </Button>
        <Button
          square
          small
          className="h-7"
          disabled={index === 0}
          aria-label="Move up"
          icon={<ArrowUp size={13} />}
          onClick={() => move.mutate({ cue: cue.id, index: index - 1 })}
        />
        <Button
          square
          small
          className="h-7"
          disabled={index === show.cues.length - 1}
          aria-label="Move down"
          icon={<ArrowDown size={13} />}
          onClick={() => move.mutate({ cue: cue.id, index: index + 1 })}
        />
        <Button
          square
          small
          tone="quiet"
          className="h-7"
          aria-label={`Remove the cue ${cue.name}`}
          icon={<Trash2 size={13} />}
          onClick={() => {
            onGone();
            remove.mutate(cue.id);
          }}
        />
      </div>
    </div>
  );
}

function Notes({ id, value, onChange }: { id: string; value: string; onChange: (notes: string) => void }) {
  const [text, setText] = useState<string | null>(null);
  const take = () => {
    if (text !== null && text !== value) onChange(text);
    setText(null);
  };
  return (
    <textarea
      id={id}
      rows={2}
      maxLength={1000}
      value={text ?? value}
      onChange={(e) => setText(e.target.value)}
      onBlur={take}
      onKeyDown={(e) => {
        if (e.key !== "Escape" || text === null) return;
        e.preventDefault();
        e.stopPropagation();
        setText(null);
      }}
      className="rounded-md border border-line bg-ground px-2 py-1 text-[13px] hover:border-strong"
    />
  );
}

function readSeconds(text: string, most: number): number | null {
  const found = /^(\d+(?:[.,]\d+)?)\s*s?$/.exec(text.trim().toLowerCase());
  if (!found) return null;
  const ms = Math.round(Number((found[1] ?? "").replace(",", ".")) * 1000);
  return ms <= most ? ms : null;
}

function readMark(text: string): string | null {
  const words = text.trim();
  return words === "the cue’s name" ? "" : words.length <= 60 ? words : null;
}

function readLevel(text: string) {
  const gain = parseGain(text);
  return gain === "off" || (gain !== null && gain >= -120 && gain <= 12) ? gain : null;
}
