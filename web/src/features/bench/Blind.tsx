import { useMutation } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { answer, api, type BlindResult, type Loop } from "@/core/api/client";
import { useOneAtATime } from "@/core/commands/once";
import { tellWrong } from "@/core/notices/notices";
import { listen, useListening } from "@/features/listen";
import { Button } from "@/shared/ui/Button";
import { plain } from "./loops";

interface Props {
  show: string;
  loop: Loop;
}

/** Two variants without their names: which one is better, several times, and then what it was. */
export function Blind({ show, loop }: Props) {
  const all = [{ id: plain, name: "Without" }, ...loop.variants];
  const [pair, setPair] = useState<[string, string]>([all[0]?.id ?? plain, all[1]?.id ?? plain]);
  const [running, setRunning] = useState<{ id: string; rounds: number } | null>(null);
  const [result, setResult] = useState<BlindResult | null>(null);
  const path = { show, loop: loop.id };
  const once = useOneAtATime();
  const hear = (blind: string, which: 1 | 2) =>
    void listen({ bench: { loop: loop.id, blind, which } }, `${loop.name}: ${which === 1 ? "the one" : "the other"}`);
  const begin = useMutation({
    mutationFn: () =>
      answer(
        api.POST("/api/shows/{show}/loops/{loop}/blind", {
          params: { path },
          body: { first: pair[0], second: pair[1] },
        }),
      ),
    onSuccess: (begun) => {
      setResult(null);
      setRunning(begun);
      hear(begun.id, 1);
    },
    onError: tellWrong,
  });
  const choose = useMutation({
    mutationFn: (better: 1 | 2) =>
      answer(
        api.POST("/api/shows/{show}/loops/{loop}/blind/{blind}/choices", {
          params: { path: { ...path, blind: running?.id ?? "" } },
          body: { better },
        }),
      ),
    onSuccess: (now) => {
      setRunning(now);
      hear(now.id, 1);
    },
    onError: tellWrong,
    onSettled: once.end,
  });
  const end = useMutation({
    mutationFn: () =>
      answer(
        api.POST("/api/shows/{show}/loops/{loop}/blind/{blind}/end", {
          params: { path: { ...path, blind: running?.id ?? "" } },
        }),
      ),
    onSuccess: setResult,
    onError: tellWrong,
    onSettled: () => {
      once.end();
      setRunning(null);
      void listen({});
    },
  });
  useEffect(
    () => () => {
      if (useListening.getState().wish.bench?.blind) void listen({});
    },
    [],
  );
  return (
    <div className="min-h-0 grow overflow-auto p-6">
      {running ? (
        <Round
          key={running.rounds}
          running={running}
          pending={choose.isPending || end.isPending}
          onHear={(which) => hear(running.id, which)}
          onChoose={(which) => once.begin(() => choose.mutate(which))}
          onEnd={() => once.begin(() => end.mutate())}
        />
      ) : (
        <>
          <h2 className="text-lg font-semibold">Which one is better, without knowing which it is?</h2>
          <p className="mt-1 max-w-prose text-quiet">
            {loop.beside.length > 0
              ? "Each is as loud against what goes round beside it as it would be on air."
              : "Both are equally loud."}{" "}
            In each round they change places by chance. After eight rounds or more you see whether you have a
            preference, or only thought so.
          </p>
          <div className="mt-4 flex flex-wrap items-center gap-2">
            <Pick label="The one" value={pair[0]} all={all} onChange={(id) => setPair([id, pair[1]])} />
            <span className="text-quiet">against</span>
            <Pick label="The other" value={pair[1]} all={all} onChange={(id) => setPair([pair[0], id])} />
            <Button tone="lit" disabled={begin.isPending || pair[0] === pair[1]} onClick={() => begin.mutate()}>
              Begin
            </Button>
            {pair[0] === pair[1] && <span className="text-xs text-quiet">Choose two that differ.</span>}
          </div>
          {result && (
            <p role="status" className="mt-5 max-w-prose rounded-md border border-line bg-surface p-3">
              {result.words}
            </p>
          )}
        </>
      )}
    </div>
  );
}

interface RoundProps {
  running: { rounds: number };
  pending: boolean;
  onHear: (which: 1 | 2) => void;
  onChoose: (which: 1 | 2) => void;
  onEnd: () => void;
}

function Round({ running, pending, onHear, onChoose, onEnd }: RoundProps) {
  const heard = useListening((s) => s.wish.bench?.which);
  return (
    <section aria-label={`Round ${running.rounds + 1}`}>
      <h2 className="text-lg font-semibold">Round {running.rounds + 1}</h2>
      <p className="mt-1 text-quiet">Go to and fro as often as you like; it goes on at the same moment.</p>
      <div className="mt-4 grid max-w-xl grid-cols-2 gap-3">
        {([1, 2] as const).map((which) => (
          <div key={which} className="grid gap-2">
            <button
              type="button"
              aria-pressed={heard === which}
              onClick={() => onHear(which)}
              className={`h-20 rounded-lg border text-lg ${heard === which ? "border-lamp bg-lamp/10 text-lamp-ink" : "border-line bg-raised hover:border-strong"}`}
            >
              {which === 1 ? "The one" : "The other"}
            </button>
            <Button disabled={pending} onClick={() => onChoose(which)}>
              {which === 1 ? "The one is better" : "The other is better"}
            </Button>
          </div>
        ))}
      </div>
      <Button className="mt-4" disabled={pending} onClick={onEnd}>
        {running.rounds === 0 ? "Leave it" : "End, and tell me"}
      </Button>
    </section>
  );
}

interface PickProps {
  label: string;
  value: string;
  all: readonly { id: string; name: string }[];
  onChange: (id: string) => void;
}

function Pick({ label, value, all, onChange }: PickProps) {
  return (
    <select
      aria-label={label}
      value={value}
      onChange={(e) => onChange(e.target.value)}
      className="h-8 max-w-52 rounded-md border border-line bg-raised px-2"
    >
      {all.map((v) => (
        <option key={v.id} value={v.id}>
          {v.name}
        </option>
      ))}
    </select>
  );
}
