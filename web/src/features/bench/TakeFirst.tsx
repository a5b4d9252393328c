import { Circle, Square } from "lucide-react";
import { useEffect, useState } from "react";
import type { Loop, Source } from "@/core/api/client";
import { useOneAtATime } from "@/core/commands/once";
import { tellWrong } from "@/core/notices/notices";
import { Button } from "@/shared/ui/Button";
import { newestFrame, useTakeLoop } from "./loops";

const longest = 30;
const shortest = 5;

interface Props {
  show: string;
  source: Source;
  onTaken: (loop: Loop) => void;
}

/** How a loop is taken: from what was just said, or from what is said now. */
export function TakeFirst({ show, source, onTaken }: Props) {
  const take = useTakeLoop(show, source.id);
  const [from, setFrom] = useState<{ frame: number; at: number } | null>(null);
  const [seconds, setSeconds] = useState(0);
  const { begin, end } = useOneAtATime();
  const done = (of: { seconds: number } | { from: number }) =>
    begin(() => take.mutate(of, { onSuccess: onTaken, onSettled: end }));
  useEffect(() => {
    if (from === null) return;
    const timer = window.setInterval(() => setSeconds((performance.now() - from.at) / 1000), 200);
    return () => window.clearInterval(timer);
  }, [from]);
  const stop = () => {
    if (from === null) return;
    setFrom(null);
    done({ from: from.frame });
  };
  const full = from !== null && seconds >= longest;
  useEffect(() => {
    if (full) stop();
  });
  return (
    <div className="min-h-0 grow overflow-auto p-6">
      <h2 className="text-lg font-semibold">Put a stretch of {source.name} on the bench</h2>
      <p className="mt-1 max-w-prose text-quiet">
        It goes round and round through any chain you like, and only you hear it: the show goes on with the live sound.
        Try up to eight variants side by side, compare them blind, and put the best one on air in one step.
      </p>
      <section className="mt-5 max-w-prose">
        <h3 className="font-semibold">What was just said</h3>
        <p className="mb-2 text-[13px] text-quiet">
          The last {longest} seconds of every source are always kept, in memory alone.
        </p>
        <div className="flex flex-wrap gap-1.5">
          {[10, 20, longest].map((n) => (
            <Button key={n} disabled={take.isPending || from !== null} onClick={() => done({ seconds: n })}>
              The last {n} seconds
            </Button>
          ))}
        </div>
      </section>
      <section className="mt-5 max-w-prose">
        <h3 className="font-semibold">What you say now</h3>
        <p className="mb-2 text-[13px] text-quiet">
          {shortest} to {longest} seconds. Say something as you do on air, and leave a pause in it.
        </p>
        {from === null ? (
          <Button
            icon={<Circle size={14} />}
            disabled={take.isPending}
            onClick={() => {
              newestFrame(show, source.id).then((frame) => {
                setSeconds(0);
                setFrom({ frame, at: performance.now() });
              }, tellWrong);
            }}
          >
            Begin
          </Button>
        ) : (
          <Button tone="lit" icon={<Square size={14} />} onClick={stop}>
            {/* It counts in sight alone: nobody wants to hear each second. */}
            End <span aria-hidden="true">· {Math.floor(seconds)} s</span>
          </Button>
        )}
      </section>
    </div>
  );
}
