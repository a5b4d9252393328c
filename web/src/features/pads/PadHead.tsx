import { ChevronDown, FolderPlus, Gauge, ListOrdered, Mic, Plus, Search, Square } from "lucide-react";
import { useRef, useState } from "react";
import { answer, api, type PadSet, type Show } from "@/core/api/client";
import { tell, tellWrong } from "@/core/notices/notices";
import { RenameField } from "@/shared/forms/RenameField";
import { Button } from "@/shared/ui/Button";
import { Choice } from "@/shared/ui/Choice";
import { Confirm } from "@/shared/ui/Dialog";
import { Menu, type MenuItem } from "@/shared/ui/Menu";
import { Progress as Bar } from "@/shared/ui/Progress";
import type { useAddFiles } from "./files";
import { type LayoutName, layouts } from "./keyboard";
import {
  useAddHeard,
  useAddSet,
  useChangeSet,
  useLevel,
  useReadSet,
  useRemoveSet,
  useStopPads,
  useTakeSet,
  type Wish,
} from "./pads";
import { chooseLayout, useReported, useView } from "./view";

const wishes: { wish: Wish; words: string; hint: string }[] = [
  { wish: "ABitUnder", words: "A bit under the voice", hint: "The loudest moment of each 4 LU below it." },
  {
    wish: "AsLoudAsTheVoice",
    words: "As loud as the voice",
    hint: "The loudest moment of each where the voice stands.",
  },
  { wish: "AJingle", words: "As a jingle, by itself", hint: "The loudest moment of each at the mix’s target." },
];

const lately = 10;

interface Props {
  show: Show;
  set: PadSet;
  files: ReturnType<typeof useAddFiles>;
}

/** Which set is at hand, what is added to it, how its pads are played. */
export function PadHead({ show, set, files }: Props) {
  const { mode, search, cues } = useView();
  const level = useLevel();
  const stopAll = useStopPads();
  return (
    <header className="flex min-h-11 shrink-0 flex-wrap items-center gap-x-1.5 gap-y-1 border-line border-b px-3 py-1">
      <h1 className="sr-only">Pads</h1>
      <SetMenu show={show} set={set} />
      <AddMenu files={files} />
      <JustHeard show={show} set={set} />
      <Menu
        trigger={
          <Button className="h-8" icon={<Gauge size={14} />} disabled={level.isPending || set.pads.length === 0}>
            {level.isPending ? "Measuring …" : "Level"}
            <ChevronDown size={13} />
          </Button>
        }
        title="All pads of this set"
        items={wishes.map(({ wish, words, hint }) => ({
          words,
          hint,
          onSelect: () =>
            level.mutate(
              { set: set.id, wish },
              {
                onSuccess: () => tell("done", `The pads of ${set.name} stand beside the voice.`, "Undo takes it back."),
              },
            ),
        }))}
        note="Each pad is played to nobody and measured as every listener would get it. Where listeners differ, the one for whom it is loudest counts."
      />
      {files.progress && (
        <span role="status" className="flex items-center gap-2 text-xs text-quiet tabular-nums">
          <Bar label="Reading sounds" value={files.progress.done / files.progress.all} /> {files.progress.done} of{" "}
          {files.progress.all}
          <Button small tone="quiet" className="h-7" onClick={files.stop}>
            Enough
          </Button>
        </span>
      )}
      <span className="grow" />
      <label className="relative max-sm:hidden">
        <span className="sr-only">Search pads</span>
        <Search size={13} className="absolute top-2.5 left-2 text-quiet" aria-hidden="true" />
        <input
          value={search}
          placeholder="Search"
          onChange={(e) => useView.setState({ search: e.target.value })}
          onKeyDown={(e) => {
            if (e.key !== "Escape" || search === "") return;
            e.preventDefault();
            useView.setState({ search: "" });
          }}
          className="h-8 w-28 rounded-md border border-line bg-ground pr-2 pl-7 text-[13px] hover:border-strong"
        />
      </label>
      <Button
        className="h-8"
        tone={cues ? "lit" : "plain"}
        aria-pressed={cues}
        icon={<ListOrdered size={14} />}
        onClick={() => useView.setState({ cues: !cues })}
      >
        Cues
      </Button>
      <Choice
        label="Hands"
        value={mode}
        options={[
          { value: "play", words: "Play" },
          { value: "arrange", words: "Arrange" },
        ]}
        onChange={(to) => useView.setState({ mode: to })}
      />
      <Button
        className="h-8"
        icon={<Square size={12} fill="currentColor" />}
        title="End all pads that sound (Backspace)"
        onClick={() => stopAll.mutate()}
      >
        End all
      </Button>
    </header>
  );
}

function SetMenu({ show, set }: { show: Show; set: PadSet }) {
  const take = useTakeSet(show.id);
  const add = useAddSet();
  const change = useChangeSet();
  const read = useReadSet();
  const remove = useRemoveSet();
  const [isRenamed, setRenamed] = useState(false);
  const [isRemoved, setRemoved] = useState(false);
  const file = useRef<HTMLInputElement>(null);
  if (isRenamed)
    return (
      <div className="w-44">
        <RenameField
          label="The set’s name"
          name={set.name}
          focusKey={`pad-set/${set.id}`}
          onDone={(name) => {
            if (name) change.mutate({ set: set.id, name });
            setRenamed(false);
          }}
        />
      </div>
    );
  const takeLast = (now: Show) => {
    const made = now.padSets.at(-1);
    if (made) take.mutate(made.id);
  };
  const items: MenuItem[] = [
    ...show.padSets.map((s) => ({
      words: s.name,
      group: "Sets of this show",
      hint: s.pads.length === 1 ? "1 pad" : `${s.pads.length} pads`,
      chosen: s.id === set.id,
      onSelect: () => take.mutate(s.id),
    })),
    { words: "New set", group: "More", onSelect: () => add.mutate(undefined, { onSuccess: takeLast }) },
    { words: "Rename this set", group: "More", onSelect: () => setRenamed(true) },
    {
      words: "Save this set as a file",
      group: "More",
      hint: "One ZIP with its sounds.",
      onSelect: () => window.location.assign(`/api/shows/${show.id}/pad-sets/${set.id}/file`),
    },
    { words: "Read a set from a file …", group: "More", onSelect: () => file.current?.click() },
    { words: "Remove this set …", group: "More", onSelect: () => setRemoved(true) },
  ];
  return (
    <>
      <Menu
        trigger={
          <Button
            className="h-8 max-w-52 min-w-0 font-semibold"
            aria-label={`Set at hand: ${set.name}`}
            data-focus={`pad-set/${set.id}`}
          >
            <span className="truncate">{set.name}</span>
            <ChevronDown size={14} />
          </Button>
        }
        items={items}
      />
      <input
        ref={file}
        type="file"
        accept=".zip,application/zip"
        aria-label="A pad set’s file"
        className="hidden"
        onChange={(e) => {
          const chosen = e.target.files?.[0];
          e.target.value = "";
          if (chosen) read.mutate(chosen, { onSuccess: takeLast });
        }}
      />
      <Confirm
        open={isRemoved}
        onOpenChange={setRemoved}
        title={`Remove ${set.name}?`}
        words={`Its ${set.pads.length} pads go with it, and what sounds of them fades out. Undo brings them back.`}
        action="Remove it"
        onConfirm={() => remove.mutate(set.id)}
      />
    </>
  );
}

function AddMenu({ files }: { files: ReturnType<typeof useAddFiles> }) {
  const one = useRef<HTMLInputElement>(null);
  const folder = useRef<HTMLInputElement>(null);
  const reported = useReported();
  const layout = useView((v) => v.layout);
  const take = (input: HTMLInputElement) => {
    const chosen = [...(input.files ?? [])];
    input.value = "";
    void files.add(chosen);
  };
  return (
    <>
      <Menu
        trigger={
          <Button className="h-8" icon={<Plus size={14} />} disabled={files.progress !== null}>
            Add
            <ChevronDown size={13} />
          </Button>
        }
        items={[
          { words: "Sound files …", icon: <Plus size={14} />, onSelect: () => one.current?.click() },
          { words: "A whole folder …", icon: <FolderPlus size={14} />, onSelect: () => folder.current?.click() },
          ...(reported
            ? []
            : Object.entries(layouts).map(([name, { words }]) => ({
                words,
                group: "What is printed on your keys",
                chosen: layout === name,
                onSelect: () => chooseLayout(name as LayoutName),
              }))),
        ]}
        note="Or drop files or folders here, onto a key or beside them. Up to 15 minutes each."
      />
      <input
        ref={one}
        type="file"
        multiple
        accept="audio/*,.wav,.aif,.aiff,.caf,.flac,.ogg,.opus,.mp3,.w64,.rf64"
        aria-label="Sound files"
        className="hidden"
        onChange={(e) => take(e.target)}
      />
      <input
        ref={folder}
        type="file"
        aria-label="A folder of sounds"
        className="hidden"
        {...({ webkitdirectory: "" } as object)}
        onChange={(e) => take(e.target)}
      />
    </>
  );
}

/** A pad of what was just heard, or of what is heard between two presses. */
function JustHeard({ show, set }: { show: Show; set: PadSet }) {
  const add = useAddHeard();
  const [recording, setRecording] = useState<{ of: string; name: string; from: number } | null>(null);
  const points = [
    ...show.sources.map((s) => ({ of: `source/${s.id}`, name: s.name, source: s.id })),
    ...show.mixes.map((m) => ({ of: `mix/${m.id}`, name: m.name, source: null })),
  ];
  const begin = async ({ of, name }: { of: string; name: string }) => {
    try {
      const recent = await answer(api.GET("/api/shows/{show}/recent", { params: { path: { show: show.id } } }));
      setRecording({ of, name, from: Math.max(0, ...recent.map((r) => r.until)) });
    } catch (error) {
      tellWrong(error);
    }
  };
  if (recording)
    return (
      <span role="status" className="flex items-center gap-1.5 text-xs">
        <span className="max-w-40 truncate text-lamp-ink">Recording {recording.name}, up to 30 s</span>
        <Button
          small
          tone="lamp"
          className="h-8 px-2"
          onClick={() => {
            setRecording(null);
            add.mutate({ set: set.id, of: recording.of, from: recording.from });
          }}
        >
          Make it a pad
        </Button>
        <Button small tone="quiet" className="h-8 px-2" onClick={() => setRecording(null)}>
          Drop it
        </Button>
      </span>
    );
  return (
    <Menu
      trigger={
        <Button className="h-8" icon={<Mic size={14} />} disabled={add.isPending}>
          {add.isPending ? "Taking …" : "Just heard"}
          <ChevronDown size={13} />
        </Button>
      }
      items={[
        ...points.map((p) => ({
          words: p.name,
          group: `The last ${lately} seconds of`,
          onSelect: () => add.mutate({ set: set.id, of: p.of, seconds: lately }),
        })),
        ...points.map((p) => ({
          words: p.name,
          group: "From now until you press again",
          onSelect: () => void begin(p),
        })),
      ]}
      note="The last 30 seconds are always kept, in memory alone. A pad of them can be trimmed over all 30."
    />
  );
}
