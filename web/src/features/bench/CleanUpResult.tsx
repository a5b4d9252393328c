import { useMutation } from "@tanstack/react-query";
import { useEffect, useRef, useState } from "react";
import { answer, api, type CleanUpAnswer } from "@/core/api/client";
import { useOneAtATime } from "@/core/commands/once";
import { tellWrong } from "@/core/notices/notices";
import { showBench } from "@/core/place/place";
import { Button } from "@/shared/ui/Button";
import { forget } from "./loops";
import { VoiceOverUsual } from "./VoiceOverUsual";

interface ResultProps {
  show: string;
  found: CleanUpAnswer;
  /** What was read, on the bench. */
  loop: string | null;
  onAgain: () => void;
  onDone: () => void;
}

const faults: Record<CleanUpAnswer["steps"][number]["fault"], string> = {
  Level: "Level",
  Clipped: "Clipping",
  Noise: "Room noise",
  Hum: "Mains hum",
  Rumble: "Rumble",
  Plosives: "Plosives",
  Sibilance: "Sharp s",
  Muddy: "Muddy",
  Nasal: "Nasal",
  Thin: "Thin",
  Dull: "Dull",
  Uneven: "Uneven",
  Distant: "Distance",
  Covers: "Under the words",
  Sudden: "Loud moments",
};

/** What was found, each fault with its reason; what is wanted of it goes to the bench. */
export function CleanUpResult({ show, found, loop, onAgain, onDone }: ResultProps) {
  const [refused, setRefused] = useState<ReadonlySet<number>>(new Set());
  const once = useOneAtATime();
  const goes = useRef(false);
  // What nobody wants to hear is not kept.
  useEffect(
    () => () => {
      if (loop !== null && !goes.current) forget(show, loop);
    },
    [show, loop],
  );
  const wanted = found.steps.filter((_, i) => !refused.has(i));
  const bench = useMutation({
    mutationFn: async (loop: string) => {
      const path = { show, loop };
      const two = await answer(
        api.POST("/api/shows/{show}/loops/{loop}/variants", { params: { path }, body: { name: "Cleaned up" } }),
      );
      const variant = two.variants.at(-1)?.id ?? "";
      await answer(
        api.PATCH("/api/shows/{show}/loops/{loop}/variants/{variant}", {
          params: { path: { ...path, variant } },
          body: { chain: wanted.map((s) => s.processor) },
        }),
      );
      return loop;
    },
    onSuccess: (loop) => {
      goes.current = true;
      onDone();
      showBench(loop);
    },
    onError: tellWrong,
    onSettled: once.end,
  });
  return (
    <>
      {found.steps.length === 0 && found.unmendable.length === 0 && (
        <p role="status">Nothing is wrong with it: it needs no processor.</p>
      )}
      {found.steps.length > 0 && (
        <ul className="grid gap-2" aria-label="What is proposed">
          {found.steps.map((s, i) => (
            <li key={s.processor.id} className="rounded-md border border-line p-2.5">
              <label className="flex items-start gap-2 text-[13px]">
                <input
                  type="checkbox"
                  className="mt-0.5"
                  checked={!refused.has(i)}
                  onChange={(e) => {
                    const next = new Set(refused);
                    if (e.target.checked) next.delete(i);
                    else next.add(i);
                    setRefused(next);
                  }}
                />
                <span>
                  <b>{faults[s.fault]}.</b> {s.reason}
                </span>
              </label>
            </li>
          ))}
        </ul>
      )}
      {found.unmendable.length > 0 && (
        <section aria-label="What no processor mends" className="mt-3">
          <h3 className="mb-1 text-xs font-semibold text-quiet">What no processor mends</h3>
          <ul className="grid gap-2">
            {found.unmendable.map((u) => (
              <li key={u.words} className="rounded-md border border-lamp bg-lamp/10 p-2.5 text-[13px]">
                <b>{faults[u.fault]}.</b> {u.words}
              </li>
            ))}
          </ul>
        </section>
      )}
      <LookedAt found={found} />
      <div className="mt-4 flex flex-wrap gap-2">
        {loop !== null && (
          <Button
            tone="lit"
            disabled={wanted.length === 0 || bench.isPending}
            onClick={() => once.begin(() => bench.mutate(loop))}
          >
            Hear it on the bench
          </Button>
        )}
        <Button onClick={onAgain}>Once more</Button>
      </div>
    </>
  );
}

function LookedAt({ found }: { found: CleanUpAnswer }) {
  if (found.measures.length === 0) return null;
  return (
    <section
      aria-label="What was looked at"
      className={`mt-4 grid gap-x-6 gap-y-3 ${found.bands.length > 0 ? "sm:grid-cols-[minmax(0,1fr)_19rem]" : ""}`}
    >
      {found.bands.length > 0 && <VoiceOverUsual bands={found.bands} />}
      <ul className="grid content-start gap-y-0.5 text-xs">
        {found.measures.map((m) => (
          <li key={m.fault} className="flex items-baseline gap-1.5">
            <span aria-hidden className={m.isInOrder ? "text-quiet" : "text-lamp"}>
              {m.isInOrder ? "✓" : "!"}
            </span>
            <span className={m.isInOrder ? "text-quiet" : "font-semibold"}>{faults[m.fault]}</span>
            <span className="ml-auto text-right text-quiet tabular-nums">
              {m.words}
              <span className="sr-only">{m.isInOrder ? ", in order" : ", not in order"}</span>
            </span>
          </li>
        ))}
      </ul>
    </section>
  );
}
