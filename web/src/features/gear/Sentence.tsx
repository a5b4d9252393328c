import type { ReactNode } from "react";
import { FindingNotes } from "@/features/findings";
import { Level } from "@/shared/ui/Level";

/** One sentence with the level that belongs to it, and what is to be said or done below it. */
export function Sentence({
  name,
  at,
  points,
  quiet,
  below,
  children,
}: {
  /** What it is about. */
  name: string;
  /** The place of which findings are told below it. */
  at?: string;
  points: readonly string[];
  /** It speaks of something that is not there now. */
  quiet?: boolean;
  below?: ReactNode;
  children: ReactNode;
}) {
  return (
    <li aria-label={name} className="flex gap-3 py-1.5">
      <Level points={points} />
      <div className="min-w-0 grow">
        <p className={`text-[14px] leading-6 ${quiet ? "text-quiet" : ""}`}>{children}</p>
        {below}
        {at && <FindingNotes at={at} />}
      </div>
    </li>
  );
}

/** What is not as it should be, and the press that mends it. */
export function Note({ tone, children }: { tone: "wrong" | "quiet" | "wanted"; children: ReactNode }) {
  const color = tone === "wrong" ? "text-wrong" : tone === "wanted" ? "text-lamp-ink" : "text-quiet";
  return <p className={`flex flex-wrap items-center gap-x-2 gap-y-1 text-xs leading-5 ${color}`}>{children}</p>;
}

/** Sentences about one thing that a person is about to do. */
export function Group({ title, action, children }: { title: string; action?: ReactNode; children: ReactNode }) {
  return (
    <section aria-label={title} className="border-line border-t pt-3 pb-2">
      <div className="flex flex-wrap items-center gap-3">
        <h2 className="text-[13px] font-semibold text-quiet">{title}</h2>
        {action}
      </div>
      <ul className="grid gap-x-10 lg:grid-cols-2">{children}</ul>
    </section>
  );
}
