import {
  AudioLines,
  Circle,
  CircleAlert,
  CircleCheck,
  Copy,
  Download,
  Ellipsis,
  FlaskConical,
  Info,
} from "lucide-react";
import { useEffect, useState } from "react";
import type { Take, Track, TrackRemark } from "@/core/api/client";
import { tellWrong } from "@/core/notices/notices";
import { stop, useRoving } from "@/shared/focus/roving";
import { RenameField } from "@/shared/forms/RenameField";
import { decimal, duration } from "@/shared/look/format";
import { Button } from "@/shared/ui/Button";
import { Menu } from "@/shared/ui/Menu";
import { Failed, faultOf, Loading, State } from "@/shared/ui/State";
import { DeletedTakes } from "./DeletedTakes";
import { Now } from "./Now";
import { PlanSection } from "./PlanSection";
import { TakeJobs } from "./TakeJobs";
import { TakeNotes } from "./TakeNotes";
import { TakeView } from "./TakeView";
import { useChangeTake, useDeleteTake } from "./takeChanges";
import { testSeconds, trackUrl, useDamagedTakes, useRecord, useTakes, useTestTake } from "./takes";

/** What the next take will have, and what was recorded: each take with its verdict and its tracks. */
export function Takes() {
  const [test, setTest] = useState<string | null>(null);
  return (
    <div className="flex h-full flex-col overflow-auto p-4">
      <h1 className="mb-3 text-lg font-semibold">Takes</h1>
      <PlanSection>
        <TestButton onBegun={setTest} />
      </PlanSection>
      <div className="mt-5 grow">
        <TakeList test={test} />
      </div>
      <DeletedTakes />
    </div>
  );
}

/** Ten seconds, which are heard and judged at once. */
function TestButton({ onBegun }: { onBegun: (take: string) => void }) {
  const test = useTestTake();
  const recording = useTakes().data?.some((t) => t.state === "Recording") ?? true;
  return (
    <Button
      className="h-7"
      icon={<FlaskConical size={14} />}
      disabled={test.isPending || recording}
      title={`${testSeconds} seconds, which are played back and judged`}
      onClick={() => test.mutate(onBegun)}
    >
      Test take
    </Button>
  );
}

function TakeList({ test }: { test: string | null }) {
  const takes = useTakes();
  const damaged = useDamagedTakes().data ?? [];
  const { start } = useRecord();
  const fault = faultOf(takes);
  if (fault) return <Failed error={fault} retry={() => void takes.refetch()} />;
  if (!takes.data) return <Loading what="the takes" />;
  if (takes.data.length === 0 && damaged.length === 0) {
    return (
      <State
        title="No take yet"
        words="A take records all its tracks at once, each in a file of its own, all starting at the same sample. When it ends, its files are read, and it is said whether each track is what its name says."
      >
        <Button tone="lamp" icon={<Circle size={13} fill="currentColor" />} onClick={() => start.mutate()}>
          Record
        </Button>
      </State>
    );
  }
  return (
    <>
      <ul className="flex max-w-5xl flex-col gap-3">
        {takes.data.map((take) => (
          <TakeItem key={take.id} take={take} isTest={take.id === test} />
        ))}
      </ul>
      {damaged.length > 0 && (
        <section aria-label="Damaged" className="mt-4 max-w-5xl text-[13px]">
          <h2 className="font-semibold">Folders that are no takes</h2>
          <p className="text-quiet">They lay among the takes when the server started. Nothing was changed in them.</p>
          <ul className="mt-1">
            {damaged.map(({ folder, words }) => (
              <li key={folder} className="border-line border-t py-1.5">
                <span className="font-medium break-words">takes/{folder}</span>{" "}
                <span className="text-quiet">{words}</span>
              </li>
            ))}
          </ul>
        </section>
      )}
    </>
  );
}

const standings = {
  Sound: { Sign: CircleCheck, tone: "text-good" },
  Remarks: { Sign: Info, tone: "text-ink" },
  Wrong: { Sign: CircleAlert, tone: "text-wrong" },
} as const;

/** A file's kind, as its ending says. */
function fileWords(form: string): string {
  return form.startsWith("Wav") ? "WAV" : form.toUpperCase();
}

const when = new Intl.DateTimeFormat("en-GB", { dateStyle: "medium", timeStyle: "medium" });

/** How long a take is, and how much of it is kept. */
function lengthWords({ seconds, from, to }: Take): string {
  return from > 0 || to !== null
    ? `${duration((to ?? seconds) - from)} kept of ${duration(seconds)}`
    : duration(seconds);
}

function TakeItem({ take, isTest }: { take: Take; isTest: boolean }) {
  const isOver = take.state !== "Recording";
  const [open, setOpen] = useState(isTest);
  const [edited, setEdited] = useState(false);
  const { mutate: change } = useChangeTake(take.id);
  const remove = useDeleteTake();
  useEffect(() => {
    if (isTest) setOpen(true);
  }, [isTest]);
  return (
    <li className="rounded-lg border border-line bg-surface p-3">
      <div className="flex flex-wrap items-baseline gap-x-3">
        {edited ? (
          <div className="w-72">
            <RenameField
              label={`Name of the take ${take.name}`}
              name={take.name}
              focusKey={`take/${take.id}`}
              onDone={(name) => {
                setEdited(false);
                if (name !== null) change({ name });
              }}
            />
          </div>
        ) : (
          <h2 className="min-w-0 break-words font-semibold">{take.name}</h2>
        )}
        <span className="text-[13px] text-quiet">
          {when.format(new Date(take.startedAt))} ·{" "}
          {isOver ? lengthWords(take) : isTest ? `a test of ${testSeconds} s` : "being recorded"}
        </span>
        {!isOver && (
          <span className="inline-flex items-center gap-1.5 text-[13px] text-lamp-ink">
            <Circle size={10} fill="currentColor" aria-hidden="true" /> now
          </span>
        )}
        {take.state === "Interrupted" && (
          <span className="text-[13px] text-wrong">Interrupted. {take.endedBecause}</span>
        )}
        {isOver && !edited && (
          <span className="ml-auto">
            <Menu
              trigger={
                <Button
                  square
                  tone="quiet"
                  className="h-7"
                  data-focus={`take/${take.id}`}
                  aria-label={`More about ${take.name}`}
                  icon={<Ellipsis size={15} />}
                />
              }
              items={[
                { words: "Rename", onSelect: () => setEdited(true) },
                {
                  words: "Delete",
                  hint: "It can be brought back for 30 days",
                  onSelect: () => remove(take),
                },
              ]}
            />
          </span>
        )}
      </div>
      {take.verdict && <TakeVerdict verdict={take.verdict} />}
      {!isOver && <Now take={take} />}
      {isOver && <TakeNotes take={take} />}
      {take.marks.length > 0 && <Marks marks={take.marks} />}
      {isOver && take.tracks.length > 0 && (
        <TakeJobs take={take}>
          <Button
            small
            className="h-7"
            icon={<AudioLines size={14} />}
            aria-expanded={open}
            aria-label={`Time line of ${take.name}`}
            onClick={() => setOpen(!open)}
          >
            Time line
          </Button>
        </TakeJobs>
      )}
      {isOver && open && <TakeView take={take} playsAtOnce={isTest} />}
      {isOver && <TrackList take={take} />}
      {isOver && <Folder folder={take.folder} />}
      {take.copy && (
        <p className={`mt-1 text-xs break-all ${take.copy.words ? "text-wrong" : "text-quiet"}`}>
          {take.copy.words ?? `It ${isOver ? "was" : "is"} written to ${take.copy.folder} too.`}
        </p>
      )}
    </li>
  );
}

/** What was found out when its files were read. */
function TakeVerdict({ verdict }: { verdict: NonNullable<Take["verdict"]> }) {
  const { Sign, tone } = standings[verdict.standing];
  return (
    <p role="status" className={`mt-1 flex items-start gap-1.5 text-[14px] ${tone}`}>
      <Sign size={16} className="mt-0.5 shrink-0" aria-hidden="true" />
      {verdict.sentence}
    </p>
  );
}

/** Where its files lie, to be copied. */
function Folder({ folder }: { folder: string }) {
  const [copied, setCopied] = useState(false);
  return (
    <div className="mt-2 flex flex-wrap items-center gap-2 text-xs text-quiet">
      <span className="min-w-0 break-all">{folder}</span>
      <Button
        small
        tone="quiet"
        className="h-6"
        icon={<Copy size={12} />}
        aria-label={copied ? undefined : `Copy the path of the folder ${folder}`}
        onClick={() => void navigator.clipboard.writeText(folder).then(() => setCopied(true), tellWrong)}
      >
        {copied ? "Copied" : "Copy the path"}
      </Button>
    </div>
  );
}

/** The moments that were marked. */
function Marks({ marks }: { marks: Take["marks"] }) {
  return (
    <ol aria-label="Marks" className="mt-1 flex max-h-24 flex-wrap gap-x-4 overflow-auto text-[13px]">
      {marks.map((mark, i) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: two marks can be the same
        <li key={i} className={mark.byProgram ? "text-quiet" : ""}>
          <span className="text-quiet tabular-nums">{duration(mark.at)}</span> {mark.words || "mark"}
        </li>
      ))}
    </ol>
  );
}

function TrackList({ take }: { take: Take }) {
  const roving = useRoving();
  return (
    <ul aria-label={`Tracks of ${take.name}`} className="mt-2" {...roving}>
      {take.tracks.map((track, i) => {
        const verdict = take.verdict?.tracks[i];
        return (
          <li key={track.id} className="flex flex-wrap items-center gap-x-3 border-line border-t py-1">
            <span className="min-w-0 grow truncate" title={track.name}>
              {track.name}
            </span>
            <span className="text-xs text-quiet tabular-nums">
              {typeof verdict?.peakDb === "number" ? `highest ${decimal(verdict.peakDb)} dBFS, ` : ""}
              {track.channels === 2 ? "stereo" : "mono"}
            </span>
            <a
              href={trackUrl(take.id, track.id)}
              download
              {...stop}
              aria-label={`Download ${track.name}, ${fileWords(track.form)}`}
              className="inline-flex items-center gap-1 rounded px-1.5 py-0.5 text-[13px] hover:bg-raised"
            >
              <Download size={14} aria-hidden="true" /> {fileWords(track.form)}
            </a>
            {verdict ? <Remarks remarks={verdict.remarks} /> : <Unjudged track={track} />}
          </li>
        );
      })}
    </ul>
  );
}

/** What is to be said of a track whose file was read. */
function Remarks({ remarks }: { remarks: TrackRemark[] }) {
  return (
    <ul className="w-full text-xs empty:hidden">
      {remarks.slice(0, mostRemarks).map((remark) => (
        <li key={remark.words} className={remark.isFault ? "text-wrong" : "text-quiet"}>
          {remark.words}
        </li>
      ))}
      {remarks.length > mostRemarks && <li>And {remarks.length - mostRemarks} more; the report has all.</li>}
    </ul>
  );
}

/** What is known of one before its file was read. */
function Unjudged({ track }: { track: Track }) {
  return (
    <>
      {track.clipped > 0 && (
        <span className="text-xs text-wrong" title="Samples beyond full scale">
          {track.clipped} clipped
        </span>
      )}
      {track.lostFrames > 0 && <span className="text-xs text-wrong">{duration(track.lostFrames / 48000)} lost</span>}
      {track.gaps.length > 0 && <Gaps gaps={track.gaps} />}
    </>
  );
}

const mostRemarks = 5;

// As many as can be read; a device that comes and goes all the time has more.
const mostGaps = 3;

/** When what a track recorded was away, and why. */
function Gaps({ gaps }: { gaps: Track["gaps"] }) {
  return (
    <ul className="w-full text-xs text-wrong">
      {gaps.slice(0, mostGaps).map((gap) => (
        <li key={gap.from}>
          Silent at {duration(gap.from)} for {decimal(gap.seconds)} s: {gap.words}.
        </li>
      ))}
      {gaps.length > mostGaps && <li>And {gaps.length - mostGaps} times more.</li>}
    </ul>
  );
}
