import { useMutation } from "@tanstack/react-query";
import { Sparkles } from "lucide-react";
import { useEffect, useRef, useState } from "react";
import { answer, api, type CleanUpAnswer, type Show, type Source } from "@/core/api/client";
import { useOneAtATime } from "@/core/commands/once";
import { tellWrong } from "@/core/notices/notices";
import { Button } from "@/shared/ui/Button";
import { Choice } from "@/shared/ui/Choice";
import { Dialog } from "@/shared/ui/Dialog";
import { Progress } from "@/shared/ui/Progress";
import { CleanUpResult } from "./CleanUpResult";
import { LookBack } from "./LookBack";
import { forget, newestFrame } from "./loops";

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
  show: Show;
  source: Source;
}

const roles = [
  { value: "voice", words: "A voice here" },
  { value: "bed", words: "A bed under speech" },
  { value: "caller", words: "Somebody who calls" },
] as const;

const roleOf = ({ kind }: Source): (typeof roles)[number]["value"] =>
  kind === "Call" || kind === "Chat"
    ? "caller"
    : kind === "Music" || kind === "Game" || kind === "App" || kind === "Pads"
      ? "bed"
      : "voice";

/** Two short steps, and a proposal with its reasons; nothing is applied before it was heard on the bench. */
export function GuidedCleanUp({ show, source }: Props) {
  const [open, setOpen] = useState(false);
  const [role, setRole] = useState(roleOf(source));
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
        words="Nothing changes for anybody: what is proposed, you hear on the bench first."
      >
        <Choice label="What it is" value={role} options={roles} onChange={setRole} />
        <div className="mt-4">
          {role === "voice" ? (
            <Guided show={show.id} source={source} onDone={() => setOpen(false)} />
          ) : (
            <LookBack key={role} show={show} source={source} role={role} onDone={() => setOpen(false)} />
          )}
        </div>
      </Dialog>
    </>
  );
}

interface GuidedProps {
  show: string;
  source: Source;
  onDone: () => void;
}

function Guided({ show, source, onDone }: GuidedProps) {
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
        <CleanUpResult
          show={show}
          found={step.found}
          loop={step.loop}
          onAgain={() => setStep({ at: "begin" })}
          onDone={onDone}
        />
      );
  }
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
