import { Hourglass } from "lucide-react";
import type { Job } from "@/core/api/client";
import { progressOf, useStopJob } from "@/core/realtime/jobs";
import { Button } from "@/shared/ui/Button";
import { Menu } from "@/shared/ui/Menu";

const verbs: Record<string, string> = {
  decode: "reading in",
  check: "checking",
  export: "packing",
  measure: "measuring",
};

/** What goes on beside the sound, each to be stopped. */
export function JobsMenu({ open }: { open: Job[] }) {
  const stop = useStopJob();
  const far = open.length === 1 && open[0] ? progressOf(open[0]) : `${open.length}`;
  return (
    <Menu
      title="Goes on beside the sound. Choose one to stop it."
      trigger={
        <Button
          icon={<Hourglass size={15} />}
          aria-label={`${open.length} at work: show, ${far}`}
          // A narrow window's bar is full: it floats above the rail.
          className="max-md:fixed max-md:bottom-17 max-md:left-3 max-md:z-40 max-md:shadow-xl"
        >
          <span className="tabular-nums">{far}</span>
        </Button>
      }
      items={open.map((job) => ({
        words: `Stop ${wordsOf(job)}`,
        hint: progressOf(job),
        onSelect: () => stop.mutate(job.id),
      }))}
    />
  );
}

function wordsOf(job: Job) {
  return `${verbs[job.kind] ?? job.kind} ${job.of}`;
}
