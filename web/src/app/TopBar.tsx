import { Circle, Headphones, Keyboard, Square, VolumeX } from "lucide-react";
import { useEffect, useRef, useState } from "react";
import { listen, useListening } from "../listen/listen";
import { meters, onPaint } from "../live/meters";
import { duration } from "../look/format";
import { useShow } from "../show/show";
import { useRecord } from "../takes/takes";
import { Button } from "../ui/Button";
import { Hint } from "../ui/Hint";
import { useHush } from "./hush";

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
export function TopBar({ onKeys }: { onKeys: () => void }) {
  const show = useShow();
  const { hushed, recording } = useEngineFlags();
  const hush = useHush();
  const { start, stop } = useRecord();
  return (
    <header className="flex h-13 shrink-0 items-center gap-3 border-line border-b bg-surface px-4 max-md:gap-1.5 max-md:px-2">
      <p className="min-w-0 truncate text-lg font-semibold max-md:text-base">{show.data?.name ?? "Kinetra"}</p>
      <div className="grow" />
      <ListenState />
      <Load />
      <Hint text="All keys">
        <Button
          tone="quiet"
          className="w-8 px-0 max-md:hidden"
          aria-label="All keys"
          icon={<Keyboard size={17} />}
          onClick={onKeys}
        />
      </Hint>
      <Hint
        text={
          hushed
            ? "Every listener hears silence. Press to let them hear again (key H)."
            : "Silence for every listener at once (key H)"
        }
      >
        <Button
          tone={hushed ? "lamp" : "plain"}
          aria-pressed={hushed}
          icon={<VolumeX size={16} />}
          onClick={() => hush.mutate(!hushed)}
        >
          {hushed ? "Hushed" : "Hush"}
        </Button>
      </Hint>
      <Hint
        text={
          recording ? "End the take (key R)" : "Record every mix and every source, each in a file of its own (key R)"
        }
      >
        <Button
          tone={recording ? "lit" : "plain"}
          aria-pressed={recording}
          disabled={start.isPending || stop.isPending}
          icon={recording ? <Square size={13} fill="currentColor" /> : <Circle size={13} fill="currentColor" />}
          onClick={() => (recording ? stop.mutate() : start.mutate())}
        >
          {recording ? <Recorded /> : "Record"}
        </Button>
      </Hint>
    </header>
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
  const { wish, gaps, waiting } = useListening();
  const show = useShow();
  const name =
    show.data?.mixes.find((m) => m.id === wish.mix)?.name ?? show.data?.sources.find((s) => s.id === wish.source)?.name;
  if (name === undefined) return null;
  return (
    <button
      type="button"
      onClick={() => void listen({})}
      className="flex min-w-0 items-center gap-1.5 rounded-md px-2 py-1 text-[13px] text-lamp-ink hover:bg-lamp/10"
      title="Stop listening (key 0)"
    >
      <Headphones size={15} className="shrink-0" aria-hidden="true" />
      <span className="truncate max-md:hidden">
        {waiting ? "Waiting for" : "You hear"} {name}
      </span>
      {gaps > 0 && (
        <span className="text-quiet max-md:hidden">
          · {gaps} {gaps === 1 ? "gap" : "gaps"}
        </span>
      )}
    </button>
  );
}

/** Computing time as a share of real time, and blocks that came too late. */
function Load() {
  const text = useRef<HTMLSpanElement>(null);
  useEffect(() => {
    let written = 0;
    return onPaint((now) => {
      if (!text.current || now - written < 500) return;
      written = now;
      const frame = meters.frame;
      if (!frame) {
        text.current.textContent = "Engine –";
        return;
      }
      const late = frame.lateBlocks > 0 ? ` · ${frame.lateBlocks} late` : "";
      text.current.textContent = `Engine ${(frame.load * 100).toFixed(1)} %${late}`;
    });
  }, []);
  return (
    <Hint text="The share of its time that the engine computes. Late: blocks of 5.3 ms that came too late since the start.">
      {/* biome-ignore lint/a11y/noNoninteractiveTabindex: its hint must be reachable by keyboard */}
      <span ref={text} tabIndex={0} className="rounded text-[13px] text-quiet max-md:hidden">
        Engine –
      </span>
    </Hint>
  );
}
