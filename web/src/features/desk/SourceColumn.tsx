import { Ear, FileMusic, Mic, Plus, RotateCcw } from "lucide-react";
import { useEffect, useRef } from "react";
import type { Show, Source } from "@/core/api/client";
import { SourceMeter } from "@/core/api/generated/live";
import { meters, onPaint } from "@/core/meters/meters";
import { enter } from "@/core/place/entry";
import { openLayer, select, textOf, usePlace } from "@/core/place/place";
import { FindingMark } from "@/features/findings";
import { AwayLine } from "@/features/gear";
import { toggleListen, useListening } from "@/features/listen";
import { MicrophoneLine } from "@/features/microphones";
import { stop, useRoving } from "@/shared/focus/roving";
import { decimal } from "@/shared/look/format";
import { colorOf, iconOf, kindOf, SourceSign } from "@/shared/look/sources";
import { Button } from "@/shared/ui/Button";
import { Hint } from "@/shared/ui/Hint";
import { usePlaySource } from "./steps";

const meterFrom = -60;

function meterShare(db: number): number {
  return Math.min(1, Math.max(0, (db - meterFrom) / -meterFrom));
}

/** The sources, each with its own live level. */
export function SourceColumn({ show }: { show: Show }) {
  const roving = useRoving();
  return (
    <section
      aria-label="Sources"
      className="flex flex-col border-line max-md:shrink-0 max-md:border-b md:min-h-0 md:w-56 md:shrink-0 md:border-r"
    >
      <header className="flex h-9 shrink-0 items-center justify-between border-line border-b pr-1.5 pl-3">
        <h2 className="text-xs font-semibold text-quiet">Sources</h2>
        <div className="flex">
          <Hint text="Add a source: an input of a device, a program, a cable.">
            <Button
              tone="quiet"
              small
              className="h-7"
              icon={<Plus size={14} />}
              aria-label="Add a source"
              onClick={() => openLayer("source")}
            >
              Source
            </Button>
          </Hint>
          <Hint text="Add a microphone that this browser gives as a source.">
            <Button
              tone="quiet"
              square
              className="h-7"
              icon={<Mic size={14} />}
              aria-label="Add a microphone"
              onClick={() => openLayer("microphone")}
            />
          </Hint>
          <Hint text="Add a sound file as a source. A file can also be dropped anywhere on the Desk.">
            <Button
              tone="quiet"
              square
              className="h-7"
              icon={<FileMusic size={14} />}
              aria-label="Add a sound"
              onClick={() => openLayer("sound")}
            />
          </Hint>
        </div>
      </header>
      <ul {...roving} className="min-h-0 grow overflow-auto max-md:flex max-md:gap-1 max-md:p-1">
        {show.sources.map((source) => (
          <SourceItem key={source.id} source={source} compact={show.sources.length > 8} />
        ))}
      </ul>
    </section>
  );
}

function SourceItem({ source, compact }: { source: Source; compact: boolean }) {
  const selected = usePlace(({ selection: s }) => s?.kind === "source" && s.source === source.id);
  const listening = useListening((s) => s.wish.source === source.id);
  const play = usePlaySource();
  const Kind = iconOf(source);
  const here = { kind: "source", source: source.id } as const;
  return (
    <li
      data-source={source.id}
      data-row=""
      className={`group relative border-line border-b px-3 ${compact ? "py-1 max-md:py-2" : "py-2"} max-md:w-40 max-md:shrink-0 max-md:rounded-md max-md:border ${selected ? "bg-raised" : "hover:bg-surface"}`}
    >
      <div className="flex items-center gap-2">
        <SourceSign source={source} />
        <button
          type="button"
          {...stop}
          data-focus={textOf(here)}
          className="min-w-0 grow truncate text-left font-medium after:absolute after:inset-0"
          aria-pressed={selected}
          title={source.name}
          // By a key there is no click count: whoever comes by keys goes in.
          onClick={(e) => (e.detail === 0 ? enter(here) : select(selected ? null : here))}
        >
          {source.name}
        </button>
        <FindingMark points={[`source/${source.id}`]} name={source.name} className="relative z-10" />
        {source.input.type === "soundFile" && (
          <Hint text="Play from the beginning">
            <button
              type="button"
              {...stop}
              aria-label={`Play ${source.name} from the beginning`}
              className="relative z-10 rounded p-0.5 text-quiet hover:text-ink"
              onClick={() => play.mutate(source.id)}
            >
              <RotateCcw size={14} />
            </button>
          </Hint>
        )}
        <Hint text={listening ? "Stop listening to this source alone" : "Listen to this source alone, in this window"}>
          <button
            type="button"
            {...stop}
            aria-label={`Listen to ${source.name} alone`}
            aria-pressed={listening}
            className={`relative z-10 rounded p-0.5 ${listening ? "text-lamp-ink" : "text-quiet opacity-0 group-hover:opacity-100 focus-visible:opacity-100 hover:text-ink"}`}
            onClick={() => toggleListen({ source: source.id })}
          >
            <Ear size={14} />
          </button>
        </Hint>
      </div>
      <LevelBar source={source} compact={compact} />
      <ClipLine source={source} />
      <MicrophoneLine source={source} />
      <AwayLine source={source} />
      {!compact && (
        <div className="flex items-center gap-1 text-[11px] text-quiet">
          <Kind size={12} aria-hidden="true" />
          <span className="grow truncate">{kindOf(source).words}</span>
        </div>
      )}
    </li>
  );
}

/** What to do where a sound clips before anything here can help it. */
export function clipWords(source: Source): string {
  switch (source.input.type) {
    case "soundFile":
      return "clips in the file itself";
    case "cable":
      return "clips in the cable: lower what plays into it";
    default:
      return "clips before the trim: lower it at the device";
  }
}

const clipHold = 10_000;

/** Says for ten seconds after each clip that the sound comes in clipped. */
function ClipLine({ source }: { source: Source }) {
  const line = useRef<HTMLParagraphElement>(null);
  const words = clipWords(source);
  useEffect(() => {
    let count = meters.source(source.id, SourceMeter.clipsIn);
    let until = 0;
    let shown = false;
    return onPaint((now) => {
      const clips = meters.source(source.id, SourceMeter.clipsIn);
      if (clips > count && Number.isFinite(count)) until = now + clipHold;
      count = clips;
      if (line.current && shown !== now < until) {
        shown = now < until;
        line.current.hidden = !shown;
        line.current.textContent = shown ? words : "";
      }
    });
  }, [source.id, words]);
  return <p ref={line} hidden role="status" className="mt-0.5 truncate text-[11px] text-wrong" title={words} />;
}

/** Bar: RMS over 400 ms. Fine line: the highest sample of the last 3 s. Number: momentary loudness. */
function LevelBar({ source, compact }: { source: Source; compact: boolean }) {
  const bar = useRef<HTMLDivElement>(null);
  const hold = useRef<HTMLDivElement>(null);
  const number = useRef<HTMLSpanElement>(null);
  useEffect(() => {
    let written = 0;
    return onPaint((now) => {
      const rms = meters.source(source.id, SourceMeter.rms);
      const peak = meters.source(source.id, SourceMeter.peakHold);
      if (bar.current) bar.current.style.transform = `scaleX(${meterShare(rms)})`;
      if (hold.current) {
        hold.current.style.left = `${meterShare(peak) * 100}%`;
        hold.current.style.opacity = peak > meterFrom ? "1" : "0";
        hold.current.style.background = peak >= 0 ? "var(--wrong)" : "var(--ink)";
      }
      if (number.current && now - written > 200) {
        written = now;
        number.current.textContent = `${decimal(meters.source(source.id, SourceMeter.momentary))} LUFS`;
      }
    });
  }, [source.id]);
  return (
    <div className={`flex items-center gap-2 ${compact ? "mt-0.5" : "my-1.5"}`}>
      <div className="relative h-1.5 grow overflow-hidden rounded-full bg-line" aria-hidden="true">
        <div
          ref={bar}
          className="absolute inset-0 origin-left rounded-full"
          style={{ background: colorOf(source), transform: "scaleX(0)" }}
        />
        <div ref={hold} className="absolute inset-y-0 w-0.5 opacity-0" />
      </div>
      <span ref={number} className={`w-17 text-right text-[11px] text-quiet ${compact ? "leading-4" : ""}`}>
        −∞ LUFS
      </span>
    </div>
  );
}
