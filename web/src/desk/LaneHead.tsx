import { Headphones } from "lucide-react";
import { useEffect, useRef } from "react";
import type { Mix } from "../api/client";
import { toggleListen, useListening } from "../listen/listen";
import { MixValue, Value } from "../live/meterFrame";
import { meters, onPaint } from "../live/meters";
import { decimal } from "../look/format";
import { Button } from "../ui/Button";
import { Hint } from "../ui/Hint";
import { select, useDesk } from "./selection";

const purposes: Record<Mix["purpose"], string> = {
  MyEars: "what you hear yourself",
  Viewers: "what the audience gets",
  Guest: "what the caller is sent",
  Recording: "what is kept",
  Other: "one more listener",
};

/** Who a lane is for, how loud it is for them, and a button to hear it as they do. */
export function LaneHead({ mix, number }: { mix: Mix; number: number }) {
  const listening = useListening((s) => s.wish.mix === mix.id);
  const selected = useDesk((s) => s.selection?.kind === "mix" && s.selection.mix === mix.id);
  const loudness = useRef<HTMLSpanElement>(null);
  const peak = useRef<HTMLSpanElement>(null);
  const against = useRef<HTMLSpanElement>(null);
  const late = useRef<HTMLSpanElement>(null);

  useEffect(() => {
    let written = 0;
    return onPaint((now) => {
      if (now - written < 200) return;
      written = now;
      const lufs = meters.mix(mix.id, Value.shortTerm);
      const db = meters.mix(mix.id, MixValue.truePeakHold);
      if (loudness.current) loudness.current.textContent = decimal(lufs);
      if (peak.current) {
        peak.current.textContent = `peak ${decimal(db)} dBTP`;
        peak.current.style.color = db >= 0 ? "var(--wrong)" : "";
      }
      if (against.current) against.current.textContent = compare(lufs, mix.targetLufs);
      if (late.current) late.current.textContent = lateness(meters.mix(mix.id, MixValue.latency));
    });
  }, [mix.id, mix.targetLufs]);

  return (
    <div
      className={`flex flex-col px-3 py-2.5 max-md:flex-row max-md:flex-wrap max-md:items-center max-md:gap-x-3 ${selected ? "bg-raised" : ""}`}
    >
      <h2 className="min-w-0 text-[15px] leading-5 font-semibold">
        <button
          type="button"
          aria-pressed={selected}
          title={mix.name}
          onClick={() => select(selected ? null : { kind: "mix", mix: mix.id })}
          className="w-full truncate text-left hover:underline"
        >
          {mix.name}
        </button>
      </h2>
      <p className="text-xs text-quiet">{purposes[mix.purpose]}</p>
      <p className="mt-1.5 leading-none">
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
      <div className="mt-auto pt-2">
        <Hint text={listening ? "Stop listening" : `Hear what ${mix.name} gets, in this window (key ${number})`}>
          <Button
            tone={listening ? "lit" : "plain"}
            aria-pressed={listening}
            aria-label={`Listen to ${mix.name}`}
            icon={<Headphones size={15} />}
            onClick={() => toggleListen({ mix: mix.id })}
          >
            {listening ? "Listening" : "Listen"}
          </Button>
        </Hint>
      </div>
    </div>
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
