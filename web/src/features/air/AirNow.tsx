import { useQueryClient } from "@tanstack/react-query";
import { Radio } from "lucide-react";
import { useEffect, useRef, useState } from "react";
import { meters, onPaint } from "@/core/meters/meters";
import { goTo } from "@/core/place/place";
import { findingsKey } from "@/features/findings";
import { duration } from "@/shared/look/format";
import { Button } from "@/shared/ui/Button";
import { Hint } from "@/shared/ui/Hint";

/** On air, since when; and whether something that should be there is not. Nothing while nobody wants it. */
export function AirNow() {
  const [{ onAir, trouble }, setFlags] = useState({ onAir: false, trouble: false });
  const text = useRef<HTMLSpanElement>(null);
  useEffect(
    () =>
      onPaint(() => {
        const frame = meters.frame;
        if (!frame) return;
        setFlags((old) =>
          old.onAir === frame.onAir && old.trouble === frame.notOnAir
            ? old
            : { onAir: frame.onAir, trouble: frame.notOnAir },
        );
        if (text.current) text.current.textContent = frame.onAir ? duration(frame.onAirSeconds) : "";
      }),
    [],
  );
  const queries = useQueryClient();
  // No step of the show tells of it: what is found is looked at anew.
  // biome-ignore lint/correctness/useExhaustiveDependencies: whenever it turns
  useEffect(() => {
    void queries.invalidateQueries({ queryKey: findingsKey });
  }, [queries, trouble]);
  if (!onAir && !trouble) return null;
  return (
    <Hint
      text={
        trouble ? "A stream that should be on air is not. Press to see why." : "On air since then. Press to see how."
      }
    >
      <Button tone={trouble ? "wrong" : "lit"} icon={<Radio size={15} />} onClick={() => goTo("air")}>
        <span className="max-md:sr-only">{onAir ? "On air" : "Not on air"}</span>
        <span ref={text} className="tabular-nums" />
      </Button>
    </Hint>
  );
}
