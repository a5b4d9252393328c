import { LoaderCircle } from "lucide-react";
import type { ReactNode } from "react";
import { Refusal } from "@/core/api/client";
import { Button } from "./Button";

/** A whole area that has nothing to show yet, or nothing at all: what that is, why, and what to do. */
export function State({ title, words, children }: { title: string; words: string; children?: ReactNode }) {
  return (
    <div className="grid h-full min-h-64 place-items-center p-6">
      <div className="max-w-md text-center">
        <h2 className="mb-1 text-lg font-semibold">{title}</h2>
        <p className="mb-4 text-quiet">{words}</p>
        {children}
      </div>
    </div>
  );
}

export function Loading({ what }: { what: string }) {
  return (
    <div role="status" className="grid h-full min-h-64 place-items-center text-quiet">
      <span className="inline-flex items-center gap-2">
        <LoaderCircle size={18} className="animate-spin" /> Fetching {what} …
      </span>
    </div>
  );
}

export function Failed({ error, retry }: { error: Error; retry: () => void }) {
  const allowed = error instanceof Refusal ? `What helps: ${error.problems.map((p) => p.allowed).join("; ")}.` : "";
  return (
    <State title={error.message} words={`${allowed} It is tried again by itself.`}>
      <Button onClick={retry}>Try again now</Button>
    </State>
  );
}

/** Why there is nothing to show yet though it was asked for: the fault of the first try counts, while more are made. */
export function faultOf(query: { data: unknown; error: Error | null; failureReason: Error | null }): Error | null {
  return query.data === undefined ? (query.error ?? query.failureReason) : null;
}
