import { useState } from "react";
import type { Take, TakeForm } from "@/core/api/client";
import { useShow } from "@/core/commands/show";
import { decimal, duration } from "@/shared/look/format";
import { Button } from "@/shared/ui/Button";
import { Choice } from "@/shared/ui/Choice";
import { Dialog } from "@/shared/ui/Dialog";
import { ValueField } from "@/shared/ui/ValueField";
import { Word } from "@/shared/ui/Word";
import { blendOf } from "./blend";
import { type SoundOrder, useExportSound } from "./takeChanges";
import { forms, formWords } from "./tracks";

const shapes = [
  { value: "Apart", words: "Tracks apart" },
  { value: "Blend", words: "One blend" },
  { value: "Channels", words: "One file, all channels" },
] as const;

const shapeWords = {
  Apart:
    "Each track a file of its own. Where the form stays the one it was recorded in, WAV and FLAC keep every sample.",
  Blend: "All that is ticked, together in one sound.",
  Channels: "One WAV file in which each track has its own channels, with their names (iXML).",
} as const;

const goals = [
  { lufs: null, words: "as loud as it is", hint: "Nothing is raised or lowered" },
  { lufs: -14, words: "to −14 LUFS", hint: "Loud: near what most services for listening play at" },
  { lufs: -16, words: "to −16 LUFS", hint: "Speech that is listened to on the way" },
  { lufs: -19, words: "to −19 LUFS", hint: "The same in one channel" },
  { lufs: -23, words: "to −23 LUFS", hint: "Broadcasting, by EBU R 128" },
] as const;

/** A number with its unit as it was typed, or null. */
function number(text: string, unit: string, least: number, most: number): number | null {
  const plain = text.trim().replace("−", "-").replace(",", ".").toLowerCase();
  const value = Number(plain.endsWith(unit) ? plain.slice(0, -unit.length).trim() : plain);
  return plain !== "" && value >= least && value <= most ? value : null;
}

/** How loud what is exported becomes, or a track in it. */
const gains = [-60, 12] as const;

/** Asks which sound files are to be made of a take. */
export function ExportDialog({ take, onClose }: { take: Take; onClose: () => void }) {
  const show = useShow().data;
  const first = blendOf(take, show);
  const every = new Set(take.tracks.map((t) => t.id));
  const [shape, setShape] = useState<SoundOrder["shape"]>("Apart");
  const [left, setLeft] = useState<ReadonlySet<string>>(new Set());
  const [blended, setBlended] = useState<ReadonlySet<string>>(first ? new Set([first.id]) : every);
  const [levels, setLevels] = useState<Readonly<Record<string, number>>>({});
  const [form, setForm] = useState<TakeForm | null>(null);
  const [lufs, setLufs] = useState<number | null>(-16);
  const [ceiling, setCeiling] = useState(-1);
  const [atMarks, setAtMarks] = useState(false);
  const make = useExportSound(take.id);
  const isBlend = shape === "Blend";
  const ticked = take.tracks.filter((t) => (isBlend ? blended.has(t.id) : !left.has(t.id)));
  const marks = take.marks.filter((m) => !m.byProgram).length;
  const isTrimmed = take.from > 0 || take.to !== null;
  const allowed = forms.filter((f) => shape !== "Channels" || f.form?.startsWith("Wav"));
  const shownForm = form !== null && !allowed.some((f) => f.form === form) ? null : form;
  const asRecorded = shape === "Apart" && shownForm === null;
  const turn = (id: string) => {
    const [set, put] = isBlend ? [blended, setBlended] : [left, setLeft];
    const next = new Set(set);
    if (!next.delete(id)) next.add(id);
    put(next);
  };
  return (
    <Dialog
      open
      wide
      onOpenChange={(open) => !open && onClose()}
      title={`Sound files of ${take.name}`}
      words={
        isTrimmed
          ? `Of what is kept of it: from ${duration(take.from)} to ${duration(take.to ?? take.seconds)}. The take stays as it is.`
          : "The take stays as it is."
      }
    >
      <form
        className="flex flex-col gap-3 text-[14px]"
        onSubmit={(e) => {
          e.preventDefault();
          if (ticked.length === 0) return;
          make(
            {
              shape,
              tracks: ticked.map((t) => ({ track: t.id, gain: isBlend ? (levels[t.id] ?? 0) : 0 })),
              form: shownForm,
              lufs: isBlend ? lufs : null,
              ceiling,
              atMarks: atMarks && marks > 0,
            },
            onClose,
          );
        }}
      >
        <div>
          <Choice label="What they become" value={shape} options={shapes} onChange={setShape} />
          <p className="mt-1 text-[13px] text-quiet">{shapeWords[shape]}</p>
        </div>
        <ul aria-label="Tracks" className="max-h-56 overflow-auto rounded-md border border-line px-2">
          {take.tracks.map((track) => {
            const on = ticked.includes(track);
            return (
              <li key={track.id} className="flex items-center gap-2 border-line border-t py-0.5 first:border-t-0">
                <label className="flex min-h-7 min-w-0 grow items-center gap-2">
                  <input type="checkbox" checked={on} onChange={() => turn(track.id)} className="size-4 accent-ink" />
                  <span className="truncate">{track.name}</span>
                </label>
                {isBlend && on && (
                  <ValueField
                    bare
                    label={`How loud ${track.name} is in the blend`}
                    className="h-7 w-20 text-right"
                    value={levels[track.id] ?? 0}
                    show={(v) => `${decimal(v)} dB`}
                    read={(text) => number(text, "db", ...gains)}
                    allowed="−60 to +12 dB"
                    step={(v, by) => Math.min(gains[1], Math.max(gains[0], v + by * 0.5))}
                    onChange={(v) => setLevels({ ...levels, [track.id]: v })}
                  />
                )}
              </li>
            );
          })}
        </ul>
        <p className="leading-7">
          {ticked.length === 0 ? "Nothing is ticked" : ticked.length === 1 ? "1 track" : `${ticked.length} tracks`}, as{" "}
          <Word
            label="What they are written as"
            words={asRecorded ? "each was recorded" : formWords(shownForm)}
            items={[
              ...(shape === "Apart"
                ? [
                    {
                      words: "each was recorded",
                      hint: "Nothing is coded once more, except MP3 and Opus at another level",
                      chosen: shownForm === null,
                      onSelect: () => setForm(null),
                    },
                  ]
                : []),
              ...allowed.map((f) => ({
                words: f.words,
                hint: f.hint,
                chosen: !asRecorded && f.form === (shownForm ?? "Wav24"),
                onSelect: () => setForm(f.form),
              })),
            ]}
          />
          {isBlend && (
            <>
              ,{" "}
              <Word
                label="How loud it becomes"
                words={lufs === null ? "as loud as it is" : `to ${decimal(lufs)} LUFS`}
                items={goals.map((g) => ({
                  words: g.words,
                  hint: g.hint,
                  chosen: g.lufs === lufs,
                  onSelect: () => setLufs(g.lufs),
                }))}
              />
            </>
          )}
          {marks > 0 && (
            <>
              ,{" "}
              <Word
                label="Whether it is split"
                words={atMarks ? `split at the ${marks === 1 ? "mark" : `${marks} marks`}` : "in one piece"}
                items={[
                  { words: "in one piece", chosen: !atMarks, onSelect: () => setAtMarks(false) },
                  {
                    words: marks === 1 ? "split at the mark" : `split at the ${marks} marks`,
                    hint: "Those that a person has set",
                    chosen: atMarks,
                    onSelect: () => setAtMarks(true),
                  },
                ]}
              />
            </>
          )}
          .
        </p>
        {isBlend && lufs !== null && (
          <div className="flex flex-wrap items-start gap-x-4 gap-y-2">
            <ValueField
              label="Loudness"
              value={lufs}
              show={(v) => `${decimal(v)} LUFS`}
              read={(text) => number(text, "lufs", -36, -6)}
              allowed="−36 to −6 LUFS"
              step={(v, by) => Math.min(-6, Math.max(-36, v + by * 0.5))}
              onChange={setLufs}
            />
            <ValueField
              label="True peak"
              value={ceiling}
              show={(v) => `${decimal(v)} dBTP`}
              read={(text) => number(text, "dbtp", -12, 0)}
              allowed="−12 to 0 dBTP"
              step={(v, by) => Math.min(0, Math.max(-12, v + by * 0.1))}
              onChange={setCeiling}
            />
            <p className="w-full text-[13px] text-quiet">
              One gain for all of it; only peaks that would be higher than the true peak are held. What it has become is
              measured in the file, and said. MP3 and Opus may lie a little above it.
            </p>
          </div>
        )}
        <div className="flex justify-end gap-2">
          <Button type="button" onClick={onClose}>
            Not now
          </Button>
          <Button type="submit" tone="lamp" disabled={ticked.length === 0}>
            Make them
          </Button>
        </div>
      </form>
    </Dialog>
  );
}
