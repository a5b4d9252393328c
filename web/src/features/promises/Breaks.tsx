import { useState } from "react";
import type { PromiseBreak } from "@/core/api/client";
import { clock, duration } from "@/shared/look/format";
import { Button } from "@/shared/ui/Button";
import { Failed, Loading } from "@/shared/ui/State";
import { useBreaks } from "./promises";

/** When promises broke and for how long, also for after the show. */
export function Breaks() {
  const [open, setOpen] = useState(false);
  return (
    <section aria-label="When they broke" className="mt-3 border-line border-t pt-3">
      <Button aria-expanded={open} onClick={() => setOpen(!open)}>
        When they broke
      </Button>
      {open && <Lines />}
    </section>
  );
}

function Lines() {
  const breaks = useBreaks();
  if (breaks.isError) return <Failed error={breaks.error} retry={() => void breaks.refetch()} />;
  if (!breaks.data) return <Loading what="when they broke" />;
  if (breaks.data.length === 0) return <p className="mt-2 text-quiet">None has broken yet.</p>;
  return (
    <ol className="mt-2 max-h-[calc(40*var(--vh))] overflow-auto">
      {breaks.data.map((b) => (
        <li
          key={`${b.promise} ${b.began} ${b.bySound}`}
          className="grid grid-cols-[5.5rem_1fr] gap-x-2 border-line border-t py-1.5"
        >
          <span className="text-xs leading-5 text-quiet">
            <time dateTime={b.began}>{clock(b.began)}</time>
            <br />
            {lasted(b)}
          </span>
          <span>
            {b.sentence}.{" "}
            <span className="text-quiet">
              {b.bySound ? "Heard" : "By the routing"}: {b.why}
            </span>
          </span>
        </li>
      ))}
    </ol>
  );
}

function lasted({ began, ended, goesOn }: PromiseBreak): string {
  if (goesOn) return "goes on";
  if (!ended) return "till the end";
  const seconds = (new Date(ended).getTime() - new Date(began).getTime()) / 1000;
  return seconds < 1 ? "a moment" : `for ${duration(seconds)}`;
}
