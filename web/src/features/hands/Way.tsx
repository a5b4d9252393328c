import { type ReactNode, useId } from "react";

/** One way: what it is, and what there is to set. */
export function Way({ title, words, children }: { title: string; words: ReactNode; children: ReactNode }) {
  const id = useId();
  return (
    <section aria-labelledby={id} className="border-line border-t pt-3 first:border-t-0 first:pt-0">
      <h3 id={id} className="font-semibold">
        {title}
      </h3>
      <p className="mt-0.5 mb-2 text-[13px] text-quiet">{words}</p>
      {children}
    </section>
  );
}
