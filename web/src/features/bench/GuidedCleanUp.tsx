import { useMutation } from "@tanstack/react-query";
import { Sparkles } from "lucide-react";
import { useEffect, useRef, useState } from "react";
import { answer, api, type CleanUpAnswer, lasting, type Source } from "@/core/api/client";
import { useOneAtATime } from "@/core/commands/once";
import { tellWrong } from "@/core/notices/notices";
import { showBench } from "@/core/place/place";
import { decimal } from "@/shared/look/format";
import { Button } from "@/shared/ui/Button";
import { Dialog } from "@/shared/ui/Dialog";
import { Progress } from "@/shared/ui/Progress";
import { newestFrame } from "./loops";

const rate = 48_000;
const silenceSeconds = 4;
/** The longest that is listened to, and the fewest seconds that tell anything. */
const speechSeconds = 15;
const fewestSeconds = 6;
const look = 200;

interface Stretch {
  from: number;
  until: number;
}

type Step =
  | { at: "begin" }
  | { at: "silence"; from: number; seconds: number }
  | { at: "between"; silence: string }
  | { at: "speech"; silence: string; from: number; seconds: number }
  | { at: "looking" }
  | { at: "result"; found: CleanUpAnswer; loop: string | null };

interface Props {
  show: string;
  source: Source;
}

/** Two short steps, and a proposal with its reasons; nothing is applied before it was heard on the bench. */
export function GuidedCleanUp({ show, source }: Props) {
  const [open, setOpen] = useState(false);
  return (
    <>
      <Button
        className="h-8"
        icon={<Sparkles size={14} />}
        title="Be silent, then read aloud: what is wrong is found, and what would help is proposed"
        onClick={() => setOpen(true)}
      >
        Clean up
      </Button>
      <Dialog
        open={open}
        onOpenChange={setOpen}
        wide
        title={`Clean up ${source.name}`}
        words="Two short steps. Nothing changes for anybody: what is proposed, you hear on the bench first."
      >
        <Guided show={show} source={source} onDone={() => setOpen(false)} />
      </Dialog>
    </>
  );
}

function Guided({ show, source, onDone }: Props & { onDone: () => void }) {
  const [step, setStep] = useState<Step>({ at: "begin" });
  const once = useOneAtATime();
  const here = useRef(true);
  useEffect(() => {
    here.current = true;
    return () => {
      here.current = false;
    };
  }, []);
  const find = useMutation({
    mutationFn: async ({ silence, speech }: { silence: string; speech: Stretch }) => {
      const params = { path: { show } };
      const found = await answer(
        api.POST("/api/shows/{show}/clean-up", { params, body: { source: source.id, silence, speech } }),
      );
      if (found.steps.length === 0) return { found, loop: null };
      // At once: in half a minute it is not there any more.
      const body = { source: source.id, from: speech.from };
      const { id } = await answer(api.POST("/api/shows/{show}/loops", { params, body }));
      if (!here.current) forget(show, id);
      return { found, loop: id };
    },
    onSuccess: ({ found, loop }) => setStep({ at: "result", found, loop }),
    onError: (error) => {
      tellWrong(error);
      setStep({ at: "begin" });
    },
  });
  const begin = (then: (frame: number) => void) =>
    once.begin(() => void newestFrame(show, source.id).then(then, tellWrong).finally(once.end));
  const heard = (silence: string, speech: Stretch) => {
    setStep({ at: "looking" });
    find.mutate({ silence, speech });
  };

  // By the engine's own time: what is counted is what was taken.
  const running = step.at === "silence" || step.at === "speech" ? step : null;
  useEffect(() => {
    if (!running) return;
    let gone = false;
    const timer = window.setTimeout(async () => {
      const frame = await newestFrame(show, source.id).catch(() => running.from);
      if (gone) return;
      const seconds = (frame - running.from) / rate;
      if (running.at === "silence") {
        if (seconds < silenceSeconds) setStep({ ...running, seconds });
        else {
          // Held at the server: whoever takes long before reading loses nothing of it.
          const stretch = { from: running.from, until: running.from + silenceSeconds * rate };
          const body = { source: source.id, stretch };
          try {
            const held = await answer(
              api.POST("/api/shows/{show}/clean-up/silence", { params: { path: { show } }, body }),
            );
            if (!gone) setStep({ at: "between", silence: held.id });
          } catch (error) {
            tellWrong(error);
            if (!gone) setStep({ at: "begin" });
          }
        }
      } else if (seconds < speechSeconds) setStep({ ...running, seconds });
      else heard(running.silence, { from: running.from, until: running.from + speechSeconds * rate });
    }, look);
    return () => {
      gone = true;
      window.clearTimeout(timer);
    };
  });

  switch (step.at) {
    case "begin":
      return (
        <>
          <h3 className="font-semibold">1 · Stay silent</h3>
          <p className="mt-1 max-w-prose text-[13px] text-quiet">
            {silenceSeconds} seconds, with everything on that is on in the show: the fan, the computer, the street.
          </p>
          <Button
            tone="lit"
            className="mt-3"
            onClick={() => begin((from) => setStep({ at: "silence", from, seconds: 0 }))}
          >
            I am silent
          </Button>
        </>
      );
    case "silence":
      return <Listening words="Listening to your room …" part={step.seconds / silenceSeconds} />;
    case "between":
      return (
        <>
          <h3 className="font-semibold">2 · Read this aloud</h3>
          <Text />
          <p className="mt-2 text-[13px] text-quiet">As loud as in the show, and as near to the microphone.</p>
          <Button
            tone="lit"
            className="mt-3"
            onClick={() => begin((from) => setStep({ at: "speech", silence: step.silence, from, seconds: 0 }))}
          >
            I begin to read
          </Button>
        </>
      );
    case "speech":
      return (
        <>
          <Text />
          <Listening words="Listening to you …" part={step.seconds / speechSeconds} />
          <Button
            className="mt-3"
            disabled={step.seconds < fewestSeconds}
            onClick={() => heard(step.silence, { from: step.from, until: step.from + Math.floor(step.seconds * rate) })}
          >
            I have read it
          </Button>
        </>
      );
    case "looking":
      return <Listening words="Looking at it …" part={1} />;
    case "result":
      return (
        <Result
          show={show}
          found={step.found}
          loop={step.loop}
          onAgain={() => setStep({ at: "begin" })}
          onDone={onDone}
        />
      );
  }
}

/** What somebody read is not kept where nobody wants to hear it. */
function forget(show: string, loop: string) {
  void api.DELETE("/api/shows/{show}/loops/{loop}", { params: { path: { show, loop } }, ...lasting });
}

function Listening({ words, part }: { words: string; part: number }) {
  return (
    <div className="mt-2">
      <p role="status" className="mb-1 text-[13px]">
        {words}
      </p>
      <Progress label={words} value={Math.min(1, part)} />
    </div>
  );
}

/** Plosives, sibilants, soft endings. */
function Text() {
  return (
    <blockquote className="mt-2 max-w-prose rounded-md border border-line bg-ground p-3 text-[15px] leading-relaxed">
      On Sunday Paul put six pieces of bread beside the window, so the sparrows would sing. Bits of paper blew past the
      house, and the bell stopped at seven. She said, softly, that it was nothing; and the evening went on, slower and
      lower, until we heard the rain.
    </blockquote>
  );
}

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
};

function Result({ show, found, loop, onAgain, onDone }: ResultProps) {
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
        <p role="status">
          Nothing is wrong with it: it stands {decimal(found.overRoom ?? 0, 0)} dB over the room, at{" "}
          {decimal(found.loudness ?? 0, 0)} LUFS. It needs no processor.
        </p>
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
              <li key={u.fault} className="rounded-md border border-lamp bg-lamp/10 p-2.5 text-[13px]">
                <b>{faults[u.fault]}.</b> {u.words}
              </li>
            ))}
          </ul>
        </section>
      )}
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
