import { ChevronLeft, Pause, Plus, RotateCcw, SkipForward } from "lucide-react";
import { useEffect, useState } from "react";
import type { CueAct, CueRun, Show } from "@/core/api/client";
import { withKeysOf } from "@/core/hands/keyboard";
import { stop, useRoving } from "@/shared/focus/roving";
import { Button } from "@/shared/ui/Button";
import { Menu } from "@/shared/ui/Menu";
import { CueFields } from "./CueFields";
import { otherItems, padItems } from "./cueItems";
import { useAddCue, useCueHand, useCueRun } from "./cues";
import { actWords, beginWords } from "./cueWords";

/** A list for shows that follow an order: what is next stands large, and one key goes on. */
export function CuePanel({ show }: { show: Show }) {
  const told = useCueRun(show);
  const hand = useCueHand(show.id);
  const [edited, setEdited] = useState<string | null>(null);
  const roving = useRoving();
  const { mutate } = hand;
  useEffect(() => withKeysOf("cue/next", "cue/back"), []);
  const run = told?.run;
  return (
    <aside
      aria-label="Cues"
      className="flex w-72 shrink-0 flex-col border-line border-l max-md:w-full max-md:border-t max-md:border-l-0"
    >
      <NextCue show={show} run={run} at={told?.at ?? 0} onHand={mutate} />
      <ol {...roving} aria-label="All cues" className="min-h-0 grow overflow-auto">
        {show.cues.map((cue, i) => (
          <li key={cue.id} data-row="" className="border-line border-b">
            <button
              type="button"
              {...stop}
              data-focus={`cue/${cue.id}`}
              aria-expanded={edited === cue.id}
              aria-current={run?.next === cue.id ? "step" : undefined}
              onClick={() => setEdited(edited === cue.id ? null : cue.id)}
              className={`flex w-full items-start gap-2 px-3 py-1.5 text-left -outline-offset-2 hover:bg-raised ${run?.next === cue.id ? "border-l-4 border-lamp bg-lamp/10" : "border-l-4 border-transparent"}`}
            >
              <span className="w-5 shrink-0 text-right text-xs text-quiet tabular-nums">{i + 1}</span>
              <span className="min-w-0 grow">
                <span
                  className={`block truncate text-[13px] ${run?.last === cue.id ? "font-semibold text-lamp-ink" : ""}`}
                >
                  {cue.name}
                </span>
                <span className="block truncate text-xs text-quiet">
                  {[beginWords(cue), ...cue.acts.map((a) => actWords(a, show))].filter((w) => w !== "").join("; ") ||
                    "a place to wait at"}
                </span>
              </span>
            </button>
            {edited === cue.id && (
              <CueFields
                show={show}
                cue={cue}
                index={i}
                onNext={() => mutate({ next: cue.id })}
                onGone={() => setEdited(null)}
              />
            )}
          </li>
        ))}
      </ol>
      <div className="flex items-center gap-1.5 border-line border-t p-2">
        <AddCue show={show} onAdded={setEdited} />
      </div>
    </aside>
  );
}

function NextCue(props: {
  show: Show;
  run: CueRun | undefined;
  at: number;
  onHand: ReturnType<typeof useCueHand>["mutate"];
}) {
  const { show, run, at, onHand } = props;
  const next = show.cues.find((c) => c.id === run?.next);
  const left = useLeft(run?.due ?? null, at);
  if (show.cues.length === 0)
    return (
      <p className="p-3 text-[13px] text-quiet">
        A list for shows that follow an order. Add what happens first; PageDown goes on to the next, PageUp goes back.
      </p>
    );
  return (
    <section aria-label="Next" className="border-line border-b p-3">
      <p className="flex justify-between text-xs text-quiet">
        <span>Next</span>
        <span className="tabular-nums">
          {run?.held
            ? "held"
            : left !== null
              ? `by itself in ${left.toFixed(1)} s`
              : next
                ? next.begin === "AfterPrevious" && run?.last
                  ? "waits: no end before"
                  : "waits for you"
                : ""}
        </span>
      </p>
      <p className="min-h-8 text-xl leading-8 font-semibold break-words">{next ? next.name : "The list is over."}</p>
      {next && next.notes !== "" && <p className="text-[13px] whitespace-pre-line">{next.notes}</p>}
      {next && (
        <p className="text-xs text-quiet">
          {next.acts.map((a) => actWords(a, show)).join("; ") || "A place to wait at."}
        </p>
      )}
      <div className="mt-2 flex items-center gap-1.5">
        <Button
          tone="lamp"
          className="h-9 grow"
          disabled={!next}
          icon={<SkipForward size={15} />}
          title="PageDown"
          onClick={() => onHand("go")}
        >
          Go on
        </Button>
        <Button
          square
          className="h-9"
          aria-label="Back by one"
          title="Back by one (PageUp)"
          icon={<ChevronLeft size={15} />}
          onClick={() => onHand("back")}
        />
        <Button
          square
          className="h-9"
          tone={run?.held ? "lit" : "plain"}
          aria-pressed={run?.held ?? false}
          aria-label="Hold: nothing follows by itself"
          title="Hold: nothing follows by itself"
          icon={<Pause size={14} />}
          onClick={() => onHand(run?.held ? "letGo" : "hold")}
        />
        <Button
          square
          className="h-9"
          aria-label="From the beginning"
          title="From the beginning"
          icon={<RotateCcw size={14} />}
          onClick={() => onHand("begin")}
        />
      </div>
    </section>
  );
}

/** Seconds that are left, counted down; null: nothing follows by itself. */
function useLeft(due: number | null | undefined, at: number): number | null {
  const [left, setLeft] = useState<number | null>(due ?? null);
  useEffect(() => {
    const count = () =>
      setLeft(due === null || due === undefined ? null : Math.max(0, due - (performance.now() - at) / 1000));
    count();
    if (due === null || due === undefined) return;
    const timer = setInterval(count, 100);
    return () => clearInterval(timer);
  }, [due, at]);
  return left;
}

function AddCue({ show, onAdded }: { show: Show; onAdded: (cue: string) => void }) {
  const add = useAddCue();
  const make = (name: string, acts: CueAct[]) =>
    add.mutate({ name, acts }, { onSuccess: (now) => onAdded(now.cues.at(-1)?.id ?? "") });
  return (
    <Menu
      trigger={
        <Button className="h-8" icon={<Plus size={14} />} disabled={add.isPending}>
          Add a cue
        </Button>
      }
      items={[
        ...padItems(show, (pad, name) => make(name.slice(0, 60), [{ type: "play", pad }])),
        ...otherItems(show, (act, name) => make(name, [act])),
        { words: "End all pads", group: "Other", onSelect: () => make("End all", [{ type: "stop", group: "" }]) },
        { words: "A place to wait at", group: "Other", onSelect: () => make("Wait here", []) },
      ]}
    />
  );
}
