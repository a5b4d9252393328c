import { useQuery } from "@tanstack/react-query";
import { Bookmark, Pause, Play } from "lucide-react";
import { useState } from "react";
import { answer, api, type Take } from "@/core/api/client";
import { fieldLook } from "@/shared/forms/Row";
import { Button } from "@/shared/ui/Button";
import { Outline } from "./Outline";
import { useMark, usePause } from "./takes";

const longestWords = 60;

/** What can be done with the take that is being recorded. */
export function Now({ take }: { take: Take }) {
  const pause = usePause();
  const mark = useMark();
  const [words, setWords] = useState("");
  return (
    <>
      <div className="mt-2 flex flex-wrap items-center gap-2">
        <Button
          className="h-7"
          tone={take.isPaused ? "lamp" : "plain"}
          icon={take.isPaused ? <Play size={14} /> : <Pause size={14} />}
          disabled={pause.isPending}
          onClick={() => pause.mutate(!take.isPaused)}
        >
          {take.isPaused ? "Go on" : "Pause"}
        </Button>
        <form
          className="flex items-center gap-2"
          onSubmit={(e) => {
            e.preventDefault();
            // At once: what is typed while the answer is on its way is the next one's. What was not marked comes back.
            const said = words.trim();
            setWords("");
            mark.mutate(said, { onError: () => setWords((now) => now || said) });
          }}
        >
          <input
            aria-label="What is to be marked; may stay empty"
            placeholder="What happens now"
            value={words}
            maxLength={longestWords}
            onChange={(e) => setWords(e.target.value)}
            className={`${fieldLook} h-7 w-56`}
          />
          <Button type="submit" className="h-7" icon={<Bookmark size={14} />}>
            Mark
          </Button>
        </form>
        {take.isPaused && (
          <p role="status" className="text-[13px] text-lamp-ink">
            Paused: nothing is recorded, in no track, until it goes on.
          </p>
        )}
      </div>
      <SoFar take={take} />
    </>
  );
}

/** How many values an outline has across the screen, and how often it is asked for. */
const [width, everyMs] = [600, 1_000];

/** What each track has so far, from the beginning to now. */
function SoFar({ take }: { take: Take }) {
  const outlines = useQuery({
    queryKey: ["takes", "so far", take.id],
    queryFn: () =>
      answer(api.GET("/api/takes/{take}/outlines", { params: { path: { take: take.id }, query: { from: 0, width } } })),
    refetchInterval: everyMs,
    gcTime: 0,
  }).data;
  return (
    <ul aria-label="So far" className="mt-2 grid grid-cols-[minmax(6rem,12rem)_minmax(0,1fr)] items-center gap-x-3">
      {take.tracks.map((track, i) => (
        <li key={track.id} className="contents">
          <span className="truncate text-[13px]" title={track.name}>
            {track.name}
          </span>
          <Outline low peaks={outlines?.tracks[i]?.peaks ?? []} silent={false} />
        </li>
      ))}
    </ul>
  );
}
