import { Archive, AudioWaveform, Check, Download, FileOutput, ListChecks } from "lucide-react";
import { type ReactNode, useState } from "react";
import type { Job, Take } from "@/core/api/client";
import { isOpen, progressOf, useJobs, useStopJob } from "@/core/realtime/jobs";
import { saveFrom } from "@/shared/look/save";
import { Button } from "@/shared/ui/Button";
import { Menu } from "@/shared/ui/Menu";
import { Progress } from "@/shared/ui/Progress";
import { ExportDialog } from "./ExportDialog";
import { jobFileUrl, timeLineUrl, useTakeJob } from "./takes";

/** What can be done with a whole take, how far that is, and what it came to. */
export function TakeJobs({ take, children }: { take: Take; children?: ReactNode }) {
  const jobs = useJobs().filter((j) => j.subject === take.id);
  const check = jobs.find((j) => j.kind === "check");
  const pack = jobs.find((j) => j.kind === "export");
  const sound = jobs.find((j) => j.kind === "sound");
  const begin = useTakeJob(take.id);
  const [asks, setAsks] = useState(false);
  return (
    <div className="mt-2 flex flex-wrap items-center gap-x-3 gap-y-1.5 text-[13px]">
      {children}
      <Button
        small
        className="h-7"
        icon={<ListChecks size={14} />}
        aria-label={`Check ${take.name}`}
        disabled={begin.isPending || (check && isOpen(check))}
        onClick={() => begin.mutate("check")}
      >
        Check
      </Button>
      <Button
        small
        className="h-7"
        icon={<Archive size={14} />}
        aria-label={`All in one ZIP: the tracks of ${take.name}`}
        disabled={begin.isPending || (pack && isOpen(pack))}
        onClick={() => begin.mutate("export")}
      >
        All in one ZIP
      </Button>
      <Button
        small
        className="h-7"
        icon={<AudioWaveform size={14} />}
        aria-label={`Sound files of ${take.name}`}
        disabled={sound && isOpen(sound)}
        onClick={() => setAsks(true)}
      >
        Sound files
      </Button>
      <ForEditing take={take} />
      {asks && <ExportDialog take={take} onClose={() => setAsks(false)} />}
      {sound && <TakeJob job={sound} what={`Making sound files of ${take.name}`} />}
      {pack && <TakeJob job={pack} what={`Packing ${take.name}`} />}
      {check && !(check.state === "Done" && take.verdict) && <TakeJob job={check} what={`Checking ${take.name}`} />}
    </div>
  );
}

/** The take's time line and marks, for programs in which it is edited or shown. */
function ForEditing({ take }: { take: Take }) {
  const line = "The time line, with its files";
  const marks = take.marks.length === 1 ? "The mark" : `The ${take.marks.length} marks`;
  return (
    <Menu
      title="Beside the files of the take"
      trigger={
        <Button small className="h-7" icon={<FileOutput size={14} />} aria-label={`For editing: ${take.name}`}>
          For editing
        </Button>
      }
      items={[
        {
          words: "OpenTimelineIO",
          hint: "all files from one zero, and the marks",
          group: line,
          onSelect: () => saveFrom(timeLineUrl(take.id, "otio")),
        },
        ...[24, 25, 30].map((rate) => ({
          words: `edit list after CMX 3600, ${rate} frames a second`,
          hint: "four channels at most, and the marks",
          group: line,
          onSelect: () => saveFrom(timeLineUrl(take.id, "edl", rate)),
        })),
        ...(take.marks.length === 0
          ? []
          : [
              {
                words: "a table, CSV",
                group: marks,
                onSelect: () => saveFrom(timeLineUrl(take.id, "csv")),
              },
              {
                words: "chapters, WebVTT",
                hint: "each lasts until the next mark",
                group: marks,
                onSelect: () => saveFrom(timeLineUrl(take.id, "vtt")),
              },
            ]),
      ]}
    />
  );
}

function TakeJob({ job, what }: { job: Job; what: string }) {
  const stop = useStopJob();
  if (isOpen(job)) {
    return (
      <span className="flex items-center gap-2">
        <span className="text-quiet tabular-nums">
          {what}: {progressOf(job)}
        </span>
        <Progress label={what} value={job.progress} />
        <Button small tone="quiet" className="h-7" onClick={() => stop.mutate(job.id)}>
          Stop
        </Button>
      </span>
    );
  }
  if (job.hasFile) {
    return (
      <a
        href={jobFileUrl(job.id)}
        download
        className="inline-flex items-center gap-1 rounded px-1.5 py-0.5 underline hover:bg-raised"
      >
        <Download size={14} aria-hidden="true" /> {job.kind === "sound" ? "Download what was made" : "Download the ZIP"}
        <span className="text-quiet">{job.words}</span>
      </a>
    );
  }
  return (
    <p role="status" className={`flex items-start gap-1 ${!job.isGood ? "text-wrong" : "text-ink"}`}>
      {job.isGood && <Check size={14} className="mt-0.5 shrink-0" aria-hidden="true" />}
      {job.words}
    </p>
  );
}
