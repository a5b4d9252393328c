import { Check, CircleAlert, TriangleAlert } from "lucide-react";
import { useEffect, useState } from "react";
import type { Air, AirCheck } from "@/core/api/client";
import { Button } from "@/shared/ui/Button";
import { Word } from "@/shared/ui/Word";
import { useAirChecks, useAllOnOff } from "./air";

const waits = [0, 5, 10] as const;

/** What is looked at before a start, and the start and the end of all streams. */
export function Start({ air, recording }: { air: readonly Air[]; recording: boolean }) {
  const running = air.some((a) => a.state !== "Off" && a.state !== "Refused");
  const checks = useAirChecks(!running);
  const all = useAllOnOff();
  const [wait, setWait] = useState<number>(0);
  const [counting, setCounting] = useState<{ left: number; record: boolean } | null>(null);
  const streams = air.map((a) => a.stream);
  const go = (record: boolean) => all.mutate({ streams, on: true, take: record && !recording });

  // biome-ignore lint/correctness/useExhaustiveDependencies: one second after the other, and nothing else
  useEffect(() => {
    if (counting === null) return;
    if (counting.left === 0) {
      setCounting(null);
      go(counting.record);
      return;
    }
    const timer = setTimeout(() => setCounting({ ...counting, left: counting.left - 1 }), 1_000);
    return () => clearTimeout(timer);
  }, [counting]);

  const begin = (record: boolean) => (wait === 0 ? go(record) : setCounting({ left: wait, record }));
  const pending = all.isPending;
  if (counting)
    return (
      <section aria-label="Start" className="mt-3 flex items-center gap-3">
        <p role="timer" aria-live="assertive" className="text-lg font-semibold">
          On air in {counting.left}
        </p>
        <Button autoFocus onClick={() => setCounting(null)}>
          Not now
        </Button>
        <span className="text-[13px] text-quiet">Going to another screen takes it back, too.</span>
      </section>
    );
  if (running)
    return (
      <section aria-label="Start" className="mt-3 flex flex-wrap items-center gap-2">
        <Button disabled={pending} onClick={() => all.mutate({ streams, on: false, take: false })}>
          End all streams
        </Button>
        {recording && (
          <Button disabled={pending} onClick={() => all.mutate({ streams, on: false, take: true })}>
            End all streams, and the take
          </Button>
        )}
        <span className="text-[13px] text-quiet">What is said up to then still goes out.</span>
      </section>
    );
  return (
    <section aria-label="Start" className="mt-3">
      <h3 className="text-[14px] font-semibold">Before the start</h3>
      <ul aria-label="Checks" className="mt-1 text-[13px]">
        {checks?.map((c, i) => (
          // biome-ignore lint/suspicious/noArrayIndexKey: two streams can have the same words
          <li key={i} className="flex items-baseline gap-2 leading-6">
            <Sign state={c.state} />
            <span className="min-w-0 break-words">
              <span className="font-medium">{c.what}:</span> {c.words}
            </span>
          </li>
        ))}
        {!checks && <li className="text-quiet">Looks at servers, levels and promises …</li>}
      </ul>
      <div className="mt-2 flex flex-wrap items-center gap-2">
        <Button tone="lamp" disabled={pending} onClick={() => begin(false)}>
          {streams.length === 1 ? "Go on air" : "Go on air with all streams"}
        </Button>
        <Button disabled={pending} onClick={() => begin(true)}>
          {recording ? "Go on air; the take goes on" : "Go on air, and record"}
        </Button>
        <Word
          label="When it starts"
          words={waitWords(wait)}
          items={waits.map((w) => ({ words: waitWords(w), chosen: w === wait, onSelect: () => setWait(w) }))}
        />
      </div>
    </section>
  );
}

function waitWords(seconds: number) {
  return seconds === 0 ? "at once" : `after ${seconds} s are counted`;
}

function Sign({ state }: { state: AirCheck["state"] }) {
  const look = {
    Good: { icon: <Check size={13} aria-hidden="true" />, words: "Good", tone: "text-quiet" },
    Look: { icon: <CircleAlert size={13} aria-hidden="true" />, words: "To look at", tone: "text-lamp-ink" },
    Wrong: { icon: <TriangleAlert size={13} aria-hidden="true" />, words: "Wrong", tone: "text-wrong" },
  }[state];
  return (
    <span className={`shrink-0 self-center ${look.tone}`}>
      {look.icon}
      <span className="sr-only">{look.words}. </span>
    </span>
  );
}
