import { ShieldAlert, ShieldCheck, ShieldQuestion } from "lucide-react";
import { Suspense, useState } from "react";
import type { Promises, Show, Verdict, Watched } from "@/core/api/client";
import { useOneAtATime } from "@/core/commands/once";
import { Effect, Places } from "@/features/findings";
import { Button } from "@/shared/ui/Button";
import { Loading } from "@/shared/ui/State";
import { PromiseMaker } from "./PromiseMaker";
import { useRemovePromise, useSetPromise } from "./promises";

export const states = {
  Kept: { words: "Kept", Sign: ShieldCheck, tone: "text-good" },
  NotKnown: { words: "Not known", Sign: ShieldQuestion, tone: "text-quiet" },
  Broken: { words: "Broken", Sign: ShieldAlert, tone: "text-wrong" },
} as const;

interface Props {
  watched: Watched;
  promises: Promises;
  show: Show;
}

/** One promise: how it stands and why, by both ways of looking; what would mend it; said otherwise, or no longer. */
export function PromiseRow({ watched, promises, show }: Props) {
  const { promise, sentence, state, routing, sound } = watched;
  const [open, setOpen] = useState<string | null>(null);
  const [isEdited, setEdited] = useState(false);
  const remove = useRemovePromise();
  const set = useSetPromise();
  const { begin, end } = useOneAtATime();
  const { words, Sign, tone } = states[state];
  const fixes = [...routing.fixes, ...sound.fixes];
  const fix = fixes.find((x) => x.label === open);
  const places = [...routing.places, ...sound.places];
  return (
    <li aria-label={sentence} className="grid grid-cols-[1.25rem_1fr] gap-x-2 border-line border-t py-2">
      <Sign size={17} className={`mt-0.5 ${tone}`} aria-hidden="true" />
      <div className="min-w-0">
        <div className="flex items-start gap-2">
          <p className="min-w-0 grow">
            <span className={`mr-1.5 font-semibold ${tone}`}>{words}.</span>
            {sentence}.
          </p>
          <Button tone="quiet" className="h-6 shrink-0" aria-expanded={isEdited} onClick={() => setEdited(!isEdited)}>
            Change
          </Button>
        </div>
        <Line name={promise.kind === "staysOnAir" ? "Server" : "Routing"} verdict={routing} />
        {promise.kind !== "defaultStays" && promise.kind !== "staysOnAir" && <Line name="Sound" verdict={sound} />}
        {state === "Broken" && (
          <div className="mt-1 flex flex-wrap items-center gap-1.5">
            {fixes.map((x) => (
              <Button
                key={x.label}
                wraps
                aria-expanded={open === x.label}
                onClick={() => setOpen(open === x.label ? null : x.label)}
              >
                {x.label}
              </Button>
            ))}
            <Places points={places} show={show} />
          </div>
        )}
        {fix && (
          <Suspense fallback={<Loading what="what it would change" />}>
            <Effect
              key={fix.label}
              proposal={{ of: "promise", promise: promise.id, label: fix.label }}
              ofComputer={fix.ofComputer}
            />
          </Suspense>
        )}
        {isEdited && (
          <div className="mt-1.5 rounded-md border border-line bg-raised p-2.5">
            <PromiseMaker
              promise={promise}
              promises={promises}
              show={show}
              words="Promise this instead"
              busy={set.isPending}
              onDone={(next) =>
                begin(() =>
                  set.mutate({ ...next, id: promise.id }, { onSuccess: () => setEdited(false), onSettled: end }),
                )
              }
              onCancel={() => setEdited(false)}
              onRemove={() => begin(() => remove.mutate(promise.id, { onSettled: end }))}
            />
          </div>
        )}
      </div>
    </li>
  );
}

/** How it stands by one way of looking. */
function Line({ name, verdict }: { name: string; verdict: Verdict }) {
  const tone = verdict.state === "Broken" ? "text-wrong" : "text-quiet";
  return (
    <p className="grid grid-cols-[3.75rem_1fr] text-xs leading-5 text-quiet">
      <span>{name}</span>
      <span>
        <span className={`${tone} font-semibold`}>{states[verdict.state].words}.</span> {verdict.why}
      </span>
    </p>
  );
}
