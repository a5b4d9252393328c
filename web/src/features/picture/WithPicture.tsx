import { useMutation } from "@tanstack/react-query";
import { ExternalLink, FileVideo } from "lucide-react";
import { useEffect, useRef, useState } from "react";
import { answer, api, type PictureAnswer, type Show, type Source } from "@/core/api/client";
import { useOneAtATime } from "@/core/commands/once";
import { to, useStep } from "@/core/commands/step";
import { tell } from "@/core/notices/notices";
import { Problems } from "@/shared/forms/Problems";
import { decimal } from "@/shared/look/format";
import { Button } from "@/shared/ui/Button";
import { MarkClap } from "./MarkClap";
import type { Recording } from "./recording";

interface Props {
  show: Show;
  source: Source;
}

interface Read {
  file: File;
  recording: Recording;
  found: PictureAnswer;
}

/** How late a picture comes to this source's sound, by a recording that has both. */
export function WithPicture({ show, source }: Props) {
  const chooser = useRef<HTMLInputElement>(null);
  const reading = useRef<AbortController>(null);
  const [seconds, setSeconds] = useState(0);
  const [marked, setMarked] = useState<PictureAnswer | null>(null);
  useEffect(() => () => reading.current?.abort(), []);
  const read = useMutation({
    mutationFn: async (file: File): Promise<Read> => {
      reading.current?.abort();
      reading.current = new AbortController();
      setSeconds(0);
      setMarked(null);
      const { readRecording } = await import("./recording");
      const recording = await readRecording(file, setSeconds, reading.current.signal);
      const body = {
        source: source.id,
        frames: recording.frames,
        picture: base64(recording.picture),
        sound: base64(new Uint8Array(recording.sound.buffer)),
      };
      const params = { path: { show: show.id } };
      const found = await answer(api.POST("/api/shows/{show}/align/picture", { params, body }));
      return { file, recording, found };
    },
    networkMode: "always",
  });
  const found = marked ?? read.data?.found;
  const forget = () => {
    setMarked(null);
    read.reset();
  };
  return (
    <section aria-label="Together with a picture" className="mt-5">
      <h3 className="mb-1 text-xs font-semibold text-quiet">Together with a picture</h3>
      <p className="mb-2 max-w-prose text-[13px] text-quiet">
        A camera’s picture is usually late. Open the flashing window where the camera sees it and the microphone hears
        it, record ten seconds or more in the program that has both, and choose that file; or clap once in front of the
        camera. It is decoded here, and nothing of it is kept.
      </p>
      <div className="flex flex-wrap items-center gap-2">
        <a
          href="/?open=flashes"
          target="_blank"
          rel="noreferrer"
          className="flex h-8 items-center gap-1.5 rounded-md border border-line bg-raised px-2.5 text-[13px] hover:border-quiet"
        >
          <ExternalLink size={14} aria-hidden="true" />
          Open the flashing window
        </a>
        <input
          ref={chooser}
          type="file"
          accept="video/*,.mkv"
          aria-label="A recording with picture and sound"
          className="hidden"
          onChange={(e) => {
            const chosen = e.target.files?.[0];
            e.target.value = "";
            if (chosen) read.mutate(chosen);
          }}
        />
        <Button
          className="h-8"
          icon={<FileVideo size={14} />}
          disabled={read.isPending}
          onClick={() => chooser.current?.click()}
        >
          Choose the recording
        </Button>
        {read.isPending && (
          <span role="status" className="text-[13px] text-quiet tabular-nums">
            Looking at it: {decimal(seconds, 0)} s
          </span>
        )}
      </div>
      <Problems error={read.error} allowed="a video with picture and sound, 3 s or longer" />
      {found && !read.isPending && <Found show={show} source={source} found={found} onSet={forget} />}
      {read.data && !read.isPending && !marked && read.data.found.milliseconds === null && (
        <MarkClap show={show.id} source={source.id} {...read.data} onMarked={setMarked} />
      )}
    </section>
  );
}

function Found({ show, source, found, onSet }: Props & { found: PictureAnswer; onSet: () => void }) {
  const set = useStep(async (syncDelay: number, seen) => {
    const now = await answer(
      api.PATCH("/api/shows/{show}/sources/{source}", { ...to(seen, { source: source.id }), body: { syncDelay } }),
    );
    tell("done", "The sync delay is set.", "Record again to see it; undo takes it back.");
    return now;
  });
  const once = useOneAtATime();
  // What was heard in the file is no longer so once the delay is another.
  const standing = show.sources.find((s) => s.id === source.id)?.syncDelay;
  const [before] = useState(standing);
  const { syncDelay } = found;
  return (
    <div role="status" className="mt-3 max-w-prose rounded-md border border-line p-3 text-[13px]">
      <p>{found.words}</p>
      {standing !== before && (
        <p className="mt-1 text-quiet">The sync delay has changed since. Record again to see what is left.</p>
      )}
      {syncDelay !== null && syncDelay !== undefined && standing === before && (
        <Button
          className="mt-2"
          tone="lit"
          disabled={set.isPending}
          onClick={() => once.begin(() => set.mutate(syncDelay, { onSuccess: onSet, onSettled: once.end }))}
        >
          Set the sync delay of {source.name} to {decimal(syncDelay, 1)} ms
        </Button>
      )}
    </div>
  );
}

function base64(bytes: Uint8Array): string {
  let text = "";
  for (let i = 0; i < bytes.length; i += 0x8000) text += String.fromCharCode(...bytes.subarray(i, i + 0x8000));
  return btoa(text);
}
