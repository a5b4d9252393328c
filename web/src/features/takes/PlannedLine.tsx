import { Ellipsis } from "lucide-react";
import { useState } from "react";
import type { PlannedTrack, Show, TakePlan } from "@/core/api/client";
import { RenameField } from "@/shared/forms/RenameField";
import { Button } from "@/shared/ui/Button";
import { Level } from "@/shared/ui/Level";
import { Menu } from "@/shared/ui/Menu";
import { Word } from "@/shared/ui/Word";
import { type Takeable, takenWords } from "./points";
import { forms, formWords, useChangeTrack, useMoveTrack, useRemoveTrack } from "./tracks";

const widths = [
  { width: "AsItIs", words: "as it comes", hint: "One channel, or two" },
  { width: "Mono", words: "in mono", hint: "Of two channels the mean" },
  { width: "Stereo", words: "in stereo", hint: "One channel goes to both" },
] as const;

interface Props {
  show: Show;
  track: PlannedTrack;
  index: number;
  all: readonly Takeable[];
  file: TakePlan["files"][number] | undefined;
}

/** One planned track: its level now, and a sentence in which everything can be another. */
export function PlannedLine({ show, track, index, all, file }: Props) {
  const { mutate } = useChangeTrack();
  const move = useMoveTrack();
  const remove = useRemoveTrack();
  const [edited, setEdited] = useState<"name" | "file" | null>(null);
  const change = (to: Parameters<typeof mutate>[0]["change"]) => mutate({ track: track.id, change: to });
  const key = `track/${track.id}`;
  const last = show.tracks.length - 1;
  if (edited !== null) {
    return (
      <li className="border-line border-t py-1">
        <RenameField
          label={
            edited === "name"
              ? `Name of the track ${track.name}`
              : `File of the track ${track.name}, without its ending`
          }
          name={edited === "name" ? track.name : (track.fileName ?? "")}
          focusKey={key}
          onDone={(text) => {
            setEdited(null);
            if (text !== null) change(edited === "name" ? { name: text } : { fileName: text });
          }}
        />
      </li>
    );
  }
  return (
    <li aria-label={track.name} className="flex items-start gap-3 border-line border-t py-1">
      <Level points={track.armed ? [track.takes] : []} />
      <p className={`min-w-0 grow text-[14px] leading-6 ${track.armed ? "" : "text-quiet"}`}>
        <span className="font-semibold break-words">{track.name}</span>{" "}
        <Word
          label={`${track.name} is recorded or not`}
          words={track.armed ? "takes" : "is left out; it would take"}
          items={[
            {
              words: "takes",
              hint: "It is armed: takes have it",
              chosen: track.armed,
              onSelect: () => change({ armed: true }),
            },
            {
              words: "is left out",
              hint: "It stays in the plan, and takes do not have it",
              chosen: !track.armed,
              onSelect: () => change({ armed: false }),
            },
          ]}
        />{" "}
        <Word
          label={`What ${track.name} takes`}
          words={takenWords(track.takes, all)}
          items={all.map((t) => ({
            words: t.words,
            group: t.group,
            chosen: t.point === track.takes,
            onSelect: () => change({ takes: t.point }),
          }))}
        />{" "}
        <Word
          label={`Channels of ${track.name}`}
          quiet={track.width === "AsItIs"}
          words={track.width === "Mono" || (track.width !== "Stereo" && file?.channels === 1) ? "in mono" : "in stereo"}
          items={widths.map(({ width, words, hint }) => ({
            words,
            hint,
            chosen: width === track.width,
            onSelect: () => change({ width }),
          }))}
        />
        , as{" "}
        <Word
          label={`What ${track.name} is written as`}
          quiet={!track.form}
          words={formWords(track.form ?? show.recording.form)}
          items={[
            {
              words: `${formWords(show.recording.form)}, as all tracks`,
              hint: "Whatever is chosen for all",
              chosen: !track.form,
              onSelect: () => change({ form: null }),
            },
            ...forms.map(({ form, words, hint }) => ({
              words,
              hint,
              chosen: form === track.form,
              onSelect: () => change({ form }),
            })),
          ]}
        />
        .{" "}
        {file && (
          <span className="text-xs text-quiet">
            {file.fileName}
            {!file.isThere && <span className="text-wrong"> It is not there now, and would be silent.</span>}
          </span>
        )}
      </p>
      <Menu
        trigger={
          <Button
            square
            small
            tone="quiet"
            className="h-7 shrink-0"
            data-focus={key}
            aria-label={`More with the track ${track.name}`}
            icon={<Ellipsis size={15} />}
          />
        }
        items={[
          { words: "Rename", onSelect: () => setEdited("name") },
          { words: "Name its file", onSelect: () => setEdited("file") },
          ...(track.fileName
            ? [{ words: "Name its file by its place", onSelect: () => change({ fileName: null }) }]
            : []),
          { words: "Up", disabled: index === 0, onSelect: () => move.mutate({ track: track.id, index: index - 1 }) },
          {
            words: "Down",
            disabled: index === last,
            onSelect: () => move.mutate({ track: track.id, index: index + 1 }),
          },
          { words: "Take it out of the plan", onSelect: () => remove.mutate(track.id) },
        ]}
      />
    </li>
  );
}
