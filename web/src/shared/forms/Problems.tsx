import { Refusal } from "@/core/api/client";

/** Why what was asked for was not done, and what is allowed. */
export function Problems({ error, allowed }: { error: Error | null; allowed?: string }) {
  if (!error) return null;
  const helps = error instanceof Refusal ? error.problems.map((p) => p.allowed).join("; ") : allowed;
  return (
    <p role="alert" className="rounded-md border border-wrong p-2 text-[13px]">
      {error.message} {helps && <span className="text-quiet">Allowed: {helps}.</span>}
    </p>
  );
}
