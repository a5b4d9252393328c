import { useMutation, useQuery } from "@tanstack/react-query";
import { useEffect, useRef, useState } from "react";
import { answer, api, type PictureAnswer } from "@/core/api/client";
import { useOneAtATime } from "@/core/commands/once";
import { Problems } from "@/shared/forms/Problems";
import { decimal } from "@/shared/look/format";
import { Button } from "@/shared/ui/Button";
import { Choice } from "@/shared/ui/Choice";
import type { Recording, Still } from "./recording";

interface Props {
  show: string;
  source: string;
  file: File;
  recording: Recording;
  found: PictureAnswer;
  onMarked: (answer: PictureAnswer) => void;
}

// As far around the clap as a picture is usually late or early, seconds.
const before = 0.3;
const after = 1;

/** No flashes, but claps in the sound: the frame in which the hands meet is marked by hand. */
export function MarkClap({ show, source, file, recording, found, onMarked }: Props) {
  const [clap, setClap] = useState(found.claps[0]);
  if (clap === undefined)
    return (
      <p className="mt-2 max-w-prose text-[13px] text-quiet">
        Nor is there a clap in its sound: a sudden, loud beginning.
      </p>
    );
  return (
    <div className="mt-3 text-[13px]">
      <p className="mb-2 max-w-prose">
        Somebody claps in its sound. Mark the first frame in which the hands meet: with the arrow keys, or by pressing
        it.
      </p>
      {found.claps.length > 1 && (
        <Choice
          label="Which clap"
          value={String(clap)}
          options={found.claps.map((c) => ({ value: String(c), words: `${decimal(c, 1)} s` }))}
          onChange={(c) => setClap(Number(c))}
        />
      )}
      <Frames
        key={clap}
        show={show}
        source={source}
        file={file}
        clap={clap}
        interval={recording.interval}
        onMarked={onMarked}
      />
    </div>
  );
}

interface FramesProps extends Pick<Props, "show" | "source" | "file" | "onMarked"> {
  clap: number;
  interval: number;
}

function Frames({ show, source, file, clap, interval, onMarked }: FramesProps) {
  const stills = useQuery({
    queryKey: ["frames", file.name, file.lastModified, clap],
    queryFn: async () => {
      const { framesFrom } = await import("./recording");
      return framesFrom(file, clap - before, Math.ceil((before + after) / interval));
    },
    retry: false,
    gcTime: 0,
    networkMode: "always",
  });
  const once = useOneAtATime();
  const mark = useMutation({
    mutationFn: (picture: number) =>
      answer(
        api.POST("/api/shows/{show}/align/clap", {
          params: { path: { show } },
          body: { source, picture, sound: clap, interval },
        }),
      ),
    onSuccess: onMarked,
    onSettled: once.end,
    networkMode: "always",
  });
  const [at, setAt] = useState<number | null>(null);
  if (stills.error) return <Problems error={stills.error} allowed="the same file" />;
  if (!stills.data) return <p className="text-quiet">Its frames are coming …</p>;
  const chosen = at ?? nearest(stills.data, clap);
  const still = stills.data[chosen];
  const last = stills.data.length - 1;
  return (
    <>
      <div
        role="listbox"
        aria-label="The frames around the clap"
        aria-activedescendant={`frame-${chosen}`}
        tabIndex={0}
        onKeyDown={(e) => {
          const step = { ArrowLeft: -1, ArrowRight: 1, PageUp: -10, PageDown: 10, Home: -last, End: last }[e.key];
          if (step === undefined) return;
          e.preventDefault();
          setAt(Math.max(0, Math.min(last, chosen + step)));
        }}
        className="my-2 flex gap-1 overflow-x-auto rounded-md border border-line p-1"
      >
        {stills.data.map((s, i) => (
          <Frame
            key={s.seconds}
            id={`frame-${i}`}
            still={s}
            isChosen={i === chosen}
            clap={clap}
            onChoose={() => setAt(i)}
          />
        ))}
      </div>
      <Problems error={mark.error} allowed="a frame near the clap" />
      <Button disabled={mark.isPending || !still} onClick={() => still && once.begin(() => mark.mutate(still.seconds))}>
        Here the hands meet
      </Button>
    </>
  );
}

function nearest(stills: Still[], seconds: number): number {
  const at = stills.findIndex((s) => s.seconds >= seconds);
  return at < 0 ? 0 : at;
}

interface FrameProps {
  id: string;
  still: Still;
  isChosen: boolean;
  clap: number;
  onChoose: () => void;
}

function Frame({ id, still, isChosen, clap, onChoose }: FrameProps) {
  const box = useRef<HTMLDivElement>(null);
  const canvas = useRef<HTMLCanvasElement>(null);
  useEffect(() => {
    canvas.current?.getContext("2d")?.drawImage(still.image, 0, 0);
  }, [still]);
  useEffect(() => {
    if (isChosen) box.current?.scrollIntoView({ inline: "center", block: "nearest" });
  }, [isChosen]);
  const late = 1000 * (still.seconds - clap);
  return (
    // biome-ignore lint/a11y/useKeyWithClickEvents: the list takes the keys.
    <div
      ref={box}
      id={id}
      role="option"
      tabIndex={-1}
      aria-selected={isChosen}
      aria-label={`${decimal(late, 0)} ms from the clap’s sound`}
      onClick={onChoose}
      className="shrink-0 rounded-sm border-2 border-transparent p-0.5 aria-selected:border-lamp"
    >
      <canvas ref={canvas} width={still.image.width} height={still.image.height} className="h-20 w-auto" />
      <div className="text-center text-[11px] text-quiet tabular-nums">{decimal(late, 0)} ms</div>
    </div>
  );
}
