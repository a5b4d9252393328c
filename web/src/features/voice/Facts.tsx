import { useEffect, useRef, useState } from "react";
import type { ProcessorType } from "@/core/api/client";
import { onPaint } from "@/core/meters/meters";
import { decimal } from "@/shared/look/format";
import { Choice } from "@/shared/ui/Choice";
import type { Dynamics } from "./looks";

/** Sound goes so far in a second, metres: dry air at 20 °C. */
const soundSpeed = 343;
const pictureRates = ["24", "25", "30", "50", "60"].map((value) => ({ value, words: value }));

interface Props {
  type: ProcessorType;
  values: Record<string, number>;
  dynamics?: Dynamics;
  /** What becomes of what is quiet. */
  quiet?: string | null;
}

/** What a processor does, in numbers that move with it. */
export function Facts({ type, values, dynamics, quiet }: Props) {
  return (
    <div className="flex min-h-7 shrink-0 flex-wrap items-center gap-x-5 gap-y-1 text-[13px]">
      {dynamics && <Now type={type} dynamics={dynamics} />}
      {quiet && <span className="text-quiet">{quiet}</span>}
      {type.key === "delay" && <DelayFacts ms={values.time ?? 0} />}
      {type.key === "equaliser" && (
        <span className="text-xs text-quiet">
          Drag a number; the wheel over it makes it narrower or wider. Enter, or Shift and the wheel, choose another
          kind; Delete switches it off, and it comes back in numbers.
        </span>
      )}
    </div>
  );
}

/** By how much it lowers now and lately, and of a gate, how long it was open. */
function Now({ type, dynamics }: { type: ProcessorType; dynamics: Dynamics }) {
  const text = useRef<HTMLSpanElement>(null);
  useEffect(() => {
    let written = 0;
    return onPaint((now) => {
      if (now - written < 200 || !text.current) return;
      written = now;
      const { blocks, last } = dynamics;
      if (!last) {
        text.current.textContent = "Nothing has come yet.";
        return;
      }
      const most = blocks.reduce((top, b) => Math.max(top, b.reduction), 0);
      const lowers = `Lowers by ${decimal(last.reduction)} dB now, by ${decimal(most)} dB at most in these seconds`;
      const open = blocks.filter((b) => b.gate >= 2).length / blocks.length;
      text.current.textContent =
        type.key === "gate"
          ? `${last.gate === 0 ? "Bypassed" : last.gate === 1 ? "Shut" : "Open"}. Open ${Math.round(open * 100)} % of the time, shut ${Math.round((1 - open) * 100)} %. ${lowers}.`
          : `${lowers}.`;
    });
  }, [type, dynamics]);
  return <span ref={text} />;
}

/** A delay in what else it could be said in. */
function DelayFacts({ ms }: { ms: number }) {
  const [rate, setRate] = useState("25");
  return (
    <>
      <span>
        {decimal(ms)} ms · {decimal((ms / 1000) * Number(rate), 2)} pictures · as far as{" "}
        {decimal((ms / 1000) * soundSpeed, 2)} m of air
      </span>
      <Choice label="Pictures a second" value={rate} options={pictureRates} onChange={setRate} />
      <span className="text-xs text-quiet">pictures a second</span>
    </>
  );
}
