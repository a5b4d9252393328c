import { TriangleAlert } from "lucide-react";
import { settled, useConflicts } from "@/core/commands/conflict";
import { Button } from "@/shared/ui/Button";
import { whose } from "./history";

/** Where two people have set one value: both, to choose from. It takes nobody's focus and covers no lane's middle. */
export function ConflictArea() {
  const conflicts = useConflicts((s) => s.conflicts);
  return (
    <div
      aria-live="assertive"
      className="fixed top-16 right-3 z-50 flex w-[min(22rem,calc(calc(100*var(--vw))-1.5rem))] flex-col gap-2"
    >
      {conflicts.map((c) => (
        <section
          key={c.what}
          aria-label={`Two values for ${c.what}`}
          className="rounded-md border border-wrong bg-raised p-3 text-[13px] shadow-xl"
        >
          <h2 className="flex items-center gap-2 font-semibold">
            <TriangleAlert size={16} className="shrink-0 text-wrong" aria-hidden="true" />
            <span className="min-w-0 truncate">{c.what}</span>
          </h2>
          <p className="mt-0.5 text-xs text-quiet">
            While you changed it, {c.step ? whose(c.step) : "somebody else"} did too.
          </p>
          <dl className="my-2 grid grid-cols-[4rem_1fr] gap-y-1">
            <dt className="text-quiet">Theirs</dt>
            <dd className="break-words">{c.value}</dd>
            <dt className="text-quiet">Yours</dt>
            <dd className="break-words">{c.mine}</dd>
          </dl>
          <div className="flex gap-2">
            <Button onClick={() => settled(c)}>Keep theirs</Button>
            <Button
              onClick={() => {
                settled(c);
                c.keepMine();
              }}
            >
              Use mine
            </Button>
          </div>
        </section>
      ))}
    </div>
  );
}
