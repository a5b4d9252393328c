import { ChevronDown, Circle, DatabaseZap, Keyboard, Square, Unplug, VolumeX } from "lucide-react";
import { lazy, Suspense, useEffect, useRef, useState } from "react";
import { useShow } from "@/core/commands/show";
import { useKeyWords } from "@/core/hands/chosen";
import { meters, onPaint } from "@/core/meters/meters";
import { openLayer } from "@/core/place/place";
import { useStatus } from "@/core/realtime/status";
import { AirNow } from "@/features/air";
import { FindingsState, NewFindings } from "@/features/findings";
import { WishState } from "@/features/gear";
import { HoldsState } from "@/features/hands";
import { HistoryButtons } from "@/features/history";
import { useListening } from "@/features/listen";
import { NewBreaks, PromisesState, useBrokenPlaces } from "@/features/promises";
import { useRecord } from "@/features/takes";
import { clock, duration } from "@/shared/look/format";
import { Button } from "@/shared/ui/Button";
import { Hint } from "@/shared/ui/Hint";
import { useHush } from "./hush";
import { JobsState } from "./JobsState";

const ListenMenu = lazy(() => import("./ListenMenu").then((m) => ({ default: m.ListenMenu })));

/** What the engine says of itself, as React needs to know it: few changes a minute. */
export function useEngineFlags() {
  const [flags, setFlags] = useState({ hushed: false, recording: false });
  useEffect(
    () =>
      onPaint(() => {
        const frame = meters.frame;
        if (!frame) return;
        setFlags((old) =>
          old.hushed === frame.hushed && old.recording === frame.recording
            ? old
            : { hushed: frame.hushed, recording: frame.recording },
        );
      }),
    [],
  );
  return flags;
}

/** Always there: the show, what is listened to, load, hush, record. */
export function TopBar({ drawn }: { drawn: boolean }) {
  const show = useShow();
  const { hushed, recording } = useEngineFlags();
  const { hush: hushKey = "", record: recordKey = "" } = useKeyWords();
  const hush = useHush();
  const { start, stop } = useRecord();
  return (
    <header className="flex h-13 shrink-0 items-center gap-3 border-line border-b bg-surface px-4 max-md:gap-1.5 max-md:px-2">
      <div className="min-w-14 md:min-w-24 md:max-w-80">
        <Hint text="All shows: open, copy, rename">
          <button
            type="button"
            onClick={() => openLayer("shows")}
            className="flex max-w-full min-w-0 items-center gap-1 rounded-md py-1 text-lg font-semibold hover:underline max-md:text-base"
          >
            <span className="truncate">{show.data?.name ?? "Kinetra"}</span>
            <ChevronDown size={16} className="shrink-0 text-quiet" aria-hidden="true" />
            <span className="sr-only">: shows</span>
          </button>
        </Hint>
      </div>
      <DatabaseState />
      <PromisesState />
      <FindingsState />
      <News />
      <WishState />
      {drawn && (
        <Suspense>
          <HoldsState />
        </Suspense>
      )}
      <div className="grow" />
      <ListenState />
      <JobsState />
      <Load />
      <HistoryButtons />
      <Hint text="All keys">
        <Button
          tone="quiet"
          square
          className="max-md:hidden"
          aria-label="All keys"
          icon={<Keyboard size={17} />}
          onClick={() => openLayer("keys")}
        />
      </Hint>
      <AirNow />
      <Hint
        text={
          hushed
            ? `Every listener hears silence. Press to let them hear again${hushKey}.`
            : `Silence for every listener at once${hushKey}`
        }
      >
        <Button
          tone={hushed ? "lamp" : "plain"}
          aria-pressed={hushed}
          icon={<VolumeX size={16} />}
          onClick={() => hush.mutate(!hushed)}
        >
          <span className="max-[359px]:sr-only">{hushed ? "Hushed" : "Hush"}</span>
        </Button>
      </Hint>
      <Hint text={recording ? `End the take${recordKey}` : `Record, each track in a file of its own${recordKey}`}>
        <Button
          tone={recording ? "lit" : "plain"}
          aria-pressed={recording}
          disabled={start.isPending || stop.isPending}
          icon={recording ? <Square size={13} fill="currentColor" /> : <Circle size={13} fill="currentColor" />}
          onClick={() => (recording ? stop.mutate() : start.mutate())}
        >
          <span className="max-[359px]:sr-only">{recording ? <Recorded /> : "Record"}</span>
        </Button>
      </Hint>
    </header>
  );
}

/** What an edit has broken or brought, each once: a broken promise tells what is found there too. */
function News() {
  const broken = useBrokenPlaces();
  return (
    <>
      <NewBreaks />
      <NewFindings
        tellsAlready={
          broken && (({ places }) => broken.some((at) => at.filter((point) => places.includes(point)).length > 1))
        }
      />
    </>
  );
}

/** Says so while the database is away: nothing is lost, and nobody has to do anything. */
function DatabaseState() {
  const status = useStatus().data;
  if (!status?.databaseAway) return null;
  const waiting = status.waitingSteps;
  return (
    <Hint text="The database does not answer. Sound and edits go on; changes are kept safe in a local journal and are stored once it is back.">
      <p
        role="status"
        // biome-ignore lint/a11y/noNoninteractiveTabindex: its hint must be reachable by keyboard
        tabIndex={0}
        className="flex shrink-0 items-center gap-1.5 rounded-md border border-wrong px-2 py-1 text-[13px] whitespace-nowrap"
      >
        <DatabaseZap size={15} className="shrink-0 text-wrong" aria-hidden="true" />
        <span className="max-md:sr-only">
          Database away ·{" "}
          {waiting === 0 ? "nothing lost" : `${waiting} ${waiting === 1 ? "change" : "changes"} kept here`}
        </span>
      </p>
    </Hint>
  );
}

/** How long the take is by now. */
function Recorded() {
  const text = useRef<HTMLSpanElement>(null);
  useEffect(
    () =>
      onPaint(() => {
        if (text.current) text.current.textContent = duration(meters.frame?.recordedSeconds ?? 0);
      }),
    [],
  );
  return (
    <>
      Stop <span ref={text} className="min-w-8 text-right" />
    </>
  );
}

function ListenState() {
  const { wish, called } = useListening();
  const show = useShow();
  const name =
    show.data?.mixes.find((m) => m.id === wish.mix)?.name ??
    show.data?.sources.find((s) => s.id === wish.source)?.name ??
    (wish.point === undefined && wish.audition === undefined && wish.bench === undefined ? undefined : called);
  return name === undefined ? null : (
    <Suspense>
      <ListenMenu name={name} />
    </Suspense>
  );
}

/** Computing time as a share of real time; and for some minutes after listeners lost sound, that they did. */
function Load() {
  const text = useRef<HTMLSpanElement>(null);
  const loss = useStatus().data?.lastLoss;
  useEffect(() => {
    let written = 0;
    return onPaint((now) => {
      if (!text.current || now - written < 500) return;
      written = now;
      const frame = meters.frame;
      text.current.textContent = frame ? `Engine ${(frame.load * 100).toFixed(1)} %` : "Engine –";
    });
  }, []);
  const isRecent = loss && Date.now() - new Date(loss.at).getTime() < lossShownFor;
  return (
    <>
      {isRecent && (
        <Hint text={loss.words}>
          <p
            role="status"
            // biome-ignore lint/a11y/noNoninteractiveTabindex: its hint must be reachable by keyboard
            tabIndex={0}
            className="flex shrink-0 items-center gap-1.5 rounded-md border border-line px-2 py-1 text-[13px] whitespace-nowrap"
          >
            <Unplug size={15} className="shrink-0 text-wrong" aria-hidden="true" />
            <span className="max-md:sr-only">Sound was lost at {clock(loss.at)}</span>
          </p>
        </Hint>
      )}
      <Hint text="The share of its time that the engine computes.">
        <span
          ref={text}
          // biome-ignore lint/a11y/noNoninteractiveTabindex: its hint must be reachable by keyboard
          tabIndex={0}
          className="shrink-0 rounded text-[13px] whitespace-nowrap text-quiet max-md:hidden"
        >
          Engine –
        </span>
      </Hint>
    </>
  );
}

const lossShownFor = 5 * 60_000;
