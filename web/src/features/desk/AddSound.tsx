import { Upload } from "lucide-react";
import { useEffect, useId, useState } from "react";
import type { Show } from "@/core/api/client";
import { tell } from "@/core/notices/notices";
import { closeLayer } from "@/core/place/place";
import { isOpen, progressOf, useJobs, useStopJob } from "@/core/realtime/jobs";
import { DialogForm } from "@/shared/forms/DialogForm";
import { NameRow } from "@/shared/forms/NameRow";
import { isTaken } from "@/shared/forms/names";
import { Row, Rows } from "@/shared/forms/Row";
import { Button } from "@/shared/ui/Button";
import { Choice } from "@/shared/ui/Choice";
import { LayerDialog } from "@/shared/ui/LayerDialog";
import { Progress } from "@/shared/ui/Progress";
import { forgetDropped, takeDropped } from "./dropped";
import { useAddSound } from "./steps";

const ways = [
  { value: "loop", words: "Over and over" },
  { value: "once", words: "Once" },
] as const;

/** Makes a sound file a source. */
export function AddSound({ show }: { show: Show }) {
  return (
    <LayerDialog
      title="Add a sound"
      words="It becomes a source like the others. WAV, AIFF, CAF, FLAC, Ogg, Opus or MP3; up to 15 minutes. Of more than two channels, the first two are taken."
    >
      <SoundForm show={show} close={closeLayer} />
    </LayerDialog>
  );
}

/** Which file, its name, and whether it starts over. */
export function SoundForm({ show, close }: { show: Show; close: () => void }) {
  const [file, setFile] = useState<File | null>(takeDropped);
  useEffect(() => forgetDropped, []);
  const [name, setName] = useState("");
  const [way, setWay] = useState<"loop" | "once">("loop");
  const add = useAddSound();
  const reading = useJobs().find((j) => isOpen(j) && j.kind === "decode" && j.of === file?.name);
  const stop = useStopJob();
  const id = useId();
  useEffect(() => {
    if (file) setName((typed) => typed || file.name.replace(/\.[^.]+$/, "").slice(0, 56));
  }, [file]);

  const ready = file !== null && name.trim() !== "" && !isTaken(name, show.sources);
  const submit = () => {
    if (!file) return;
    add.mutate(
      { file, name: name.trim(), loop: way === "loop" },
      {
        onSuccess: () => {
          tell("done", `${name.trim()} is a source now.`, "Each listener's lane has it where its kind belongs.");
          close();
        },
      },
    );
  };

  return (
    <DialogForm
      act={add.isPending ? "Adding …" : "Add it"}
      ready={ready}
      pending={add.isPending}
      error={add.error}
      onSubmit={submit}
      onCancel={close}
    >
      <label
        htmlFor={id}
        className="flex cursor-pointer items-center gap-3 rounded-md border border-strong border-dashed p-3 hover:bg-raised has-focus-visible:outline-2 has-focus-visible:outline-focus"
      >
        <Upload size={18} className="shrink-0 text-quiet" />
        <span className="min-w-0 truncate">
          {file ? `${file.name} · ${(file.size / 1024 / 1024).toFixed(1)} MB` : "Choose a sound file"}
        </span>
        <input
          id={id}
          type="file"
          accept="audio/*,.wav,.aif,.aiff,.caf,.flac,.ogg,.opus,.mp3,.w64,.rf64"
          className="sr-only"
          onChange={(e) => setFile(e.target.files?.[0] ?? null)}
        />
      </label>
      <Rows>
        <NameRow value={name} others={show.sources} of="source" onChange={setName} />
        <Row label="Plays">
          <div>
            <Choice label="Plays" value={way} options={ways} onChange={setWay} />
          </div>
        </Row>
      </Rows>
      {add.isPending && reading && (
        <p role="status" className="flex items-center gap-2 text-[13px] text-quiet tabular-nums">
          <Progress label={`Reading in ${reading.of}`} value={reading.progress} /> {progressOf(reading)}
          <Button small tone="quiet" className="h-7" onClick={() => stop.mutate(reading.id)}>
            Stop
          </Button>
        </p>
      )}
    </DialogForm>
  );
}
