import { ChevronDown, ChevronRight, Headphones } from "lucide-react";
import { useEffect, useRef } from "react";
import type { Mix } from "@/core/api/client";
import { MixMeter, SourceMeter } from "@/core/api/generated/live";
import { meters, onPaint } from "@/core/meters/meters";
import { enter } from "@/core/place/entry";
import { goTo, select, textOf, usePlace } from "@/core/place/place";
import { FindingMark } from "@/features/findings";
import { useWays } from "@/features/gear";
import { toggleListen, useListening } from "@/features/listen";
import { stop } from "@/shared/focus/roving";
import { decimal } from "@/shared/look/format";
import { Button } from "@/shared/ui/Button";
import { Hint } from "@/shared/ui/Hint";
import { chooseFold } from "./folds";

const purposes: Record<Mix["purpose"], string> = {
  MyEars: "what you hear yourself",
  Viewers: "what the audience gets",
  Guest: "what the caller is sent",
  Recording: "what is kept",
  Other: "one more listener",
};

/** Who a lane is for, how loud it is for them, and a button to hear it as they do. */
export function LaneHead({ mix, number, folded }: { mix: Mix; number: number; folded: boolean }) {
  const listening = useListening((s) => s.wish.mix === mix.id);
  const selected = usePlace(({ selection: s }) => s?.kind === "mix" && s.mix === mix.id);
  const loudness = useRef<HTMLSpanElement>(null);
  const peak = useRef<HTMLSpanElement>(null);
  const against = useRef<HTMLSpanElement>(null);
  const late = useRef<HTMLSpanElement>(null);

  useEffect(() => {
    let written = 0;
    return onPaint((now) => {
      if (now - written < 200) return;
      written = now;
      const lufs = meters.mix(mix.id, SourceMeter.shortTerm);
      const db = meters.mix(mix.id, MixMeter.truePeakHold);
      if (loudness.current) loudness.current.textContent = decimal(lufs);
      if (peak.current) {
        peak.current.textContent = `peak ${decimal(db)} dBTP`;
        peak.current.style.color = db >= 0 ? "var(--wrong)" : "";
      }
      if (against.current) against.current.textContent = compare(lufs, mix.targetLufs);
      if (late.current) late.current.textContent = lateness(meters.mix(mix.id, MixMeter.latency));
    });
  }, [mix.id, mix.targetLufs]);

  const here = { kind: "mix", mix: mix.id } as const;
  const name = (
    <div className="flex min-w-0 items-center">
      <FoldButton mix={mix} folded={folded} />
      <h2 className="min-w-0 grow text-[15px] leading-5 font-semibold">
        <button
          type="button"
          {...stop}
          data-focus={textOf(here)}
          aria-pressed={selected}
          title={mix.name}
          // By a key there is no click count: whoever comes by keys goes in.
          onClick={(e) => (e.detail === 0 ? enter(here) : select(selected ? null : here))}
          className="w-full truncate text-left hover:underline"
        >
          {mix.name}
        </button>
      </h2>
      <FindingMark points={[`mix/${mix.id}`]} name={mix.name} />
    </div>
  );
  const listenButton = (
    <Hint text={listening ? "Stop listening" : `Hear what ${mix.name} gets, in this window (key ${number})`}>
      <Button
        {...stop}
        tone={listening ? "lit" : folded ? "quiet" : "plain"}
        square={folded}
        className={folded ? "h-7" : ""}
        aria-pressed={listening}
        aria-label={`Listen to ${mix.name}`}
        icon={<Headphones size={15} />}
        onClick={() => toggleListen({ mix: mix.id })}
      >
        {folded ? undefined : listening ? "Listening" : "Listen"}
      </Button>
    </Hint>
  );
  if (folded)
    return (
      <div className={`flex items-center gap-1 pr-2 pl-1 ${selected ? "bg-raised" : ""}`}>
        <div className="min-w-0 grow">
          {name}
          <p className="truncate pl-5 text-[11px] leading-4 text-quiet">
            <span ref={loudness}>−∞</span> LUFS
          </p>
        </div>
        {listenButton}
      </div>
    );
  return (
    <div
      className={`flex flex-col py-2 pr-3 pl-1 max-md:flex-row max-md:pl-3 max-md:flex-wrap max-md:items-center max-md:gap-x-3 md:[&>:not(:first-child)]:pl-5 ${selected ? "bg-raised" : ""}`}
    >
      {name}
      <Ways mix={mix} />
      <p className="mt-1 leading-none">
        <span ref={loudness} className="narrow text-[26px] font-medium">
          −∞
        </span>
        <span className="ml-1 text-xs text-quiet">LUFS</span>
      </p>
      <span ref={against} className="mt-1 text-[11px] text-quiet" />
      <span ref={peak} className="text-[11px] text-quiet">
        peak −∞ dBTP
      </span>
      <span
        ref={late}
        className="text-[11px] text-quiet"
        title="What its processors’ look-ahead adds; all that is in it waits for the slowest."
      />
      <div className="mt-auto pt-1.5">{listenButton}</div>
    </div>
  );
}

/** Where the mix goes, and what is off or away of it; where it goes nowhere, whom it is for. */
function Ways({ mix }: { mix: Mix }) {
  const ways = useWays(mix);
  if (ways.length === 0) return <p className="text-xs text-quiet">{purposes[mix.purpose]}</p>;
  // What is wrong comes first, the word before the name: the line may be cut short.
  const words = [...ways.filter((w) => w.wrong), ...ways.filter((w) => !w.wrong)]
    .map((w) => (w.wrong ? `${w.note}: ${w.name}` : w.note ? `${w.name} (${w.note})` : w.name))
    .join(", ");
  return (
    <button
      type="button"
      {...stop}
      title={`${mix.name} goes to ${words}. Press to change that.`}
      aria-label={`${mix.name} goes to ${words}`}
      onClick={() => goTo("gear")}
      className={`max-w-full truncate text-left text-xs hover:underline ${ways.some((w) => w.wrong) ? "text-wrong" : "text-quiet"}`}
    >
      to {words}
    </button>
  );
}

/** Folds a lane to its head and one line, or opens it again. */
function FoldButton({ mix, folded }: { mix: Mix; folded: boolean }) {
  const Sign = folded ? ChevronRight : ChevronDown;
  return (
    <button
      type="button"
      {...stop}
      aria-expanded={!folded}
      aria-label={`${mix.name} with a row for each source`}
      title={folded ? "Open this lane" : "Fold this lane to one line"}
      onClick={() => chooseFold(mix.id, folded ? "open" : "folded")}
      className="flex h-5 w-5 shrink-0 items-center justify-center rounded text-quiet hover:text-ink"
    >
      <Sign size={14} aria-hidden="true" />
    </button>
  );
}

/** What the processors’ look-ahead adds, in frames, as words; nothing where it adds nothing. */
function lateness(frames: number): string {
  return frames > 0 ? `${decimal(frames / 48)} ms late` : "";
}

function compare(lufs: number, target: number): string {
  const aim = `target ${decimal(target, 0)}`;
  if (lufs < -70) return `silent · ${aim}`;
  const off = lufs - target;
  if (Math.abs(off) <= 1) return `on ${aim}`;
  return `${decimal(Math.abs(off))} LU ${off > 0 ? "over" : "under"} ${aim}`;
}
