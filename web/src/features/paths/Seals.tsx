import { ShieldAlert, ShieldCheck, ShieldQuestionMark } from "lucide-react";
import type { Show, ShowPromise, Watched } from "@/core/api/client";
import { openLayer } from "@/core/place/place";
import { usePromises } from "@/features/promises";

const most = 2;

const signs = {
  Broken: { Sign: ShieldAlert, tone: "text-wrong", words: "Broken" },
  NotKnown: { Sign: ShieldQuestionMark, tone: "text-quiet", words: "Not known" },
  Kept: { Sign: ShieldCheck, tone: "text-good", words: "Kept" },
} as const;

const worstFirst = { Broken: 0, NotKnown: 1, Kept: 2 } as const;

/** Whether a promise is kept at a point: who hears there. Who must not hear himself hears with the program that he speaks through. */
function isAt(promise: ShowPromise, point: string, show: Show): boolean {
  if (promise.kind === "neverHearsHimself") {
    const input = show.sources.find((s) => s.id === promise.source)?.input;
    return input?.type === "app" && point.startsWith(`app/${input.app}/`);
  }
  if ("listener" in promise && typeof promise.listener === "string") return promise.listener === point;
  return "mix" in promise && typeof promise.mix === "string" && `mix/${promise.mix}` === point;
}

/** The promises at some listeners, the worst first. */
export function useSeals(show: Show) {
  const promises = usePromises().data?.promises ?? [];
  return {
    at: (points: readonly string[]) =>
      promises
        .filter((p) => points.some((point) => isAt(p.promise, point, show)))
        .sort((a, b) => worstFirst[a.state] - worstFirst[b.state]),
  };
}

/** Promises at a listener, as seals. */
export function Seals({ seals }: { seals: readonly Watched[] }) {
  if (seals.length === 0) return null;
  const broken = seals.filter((s) => s.state === "Broken").length;
  return (
    <button
      type="button"
      onClick={() => openLayer("promises")}
      title={seals.map((s) => `${signs[s.state].words}: ${s.sentence}`).join("\n")}
      className="block w-full max-w-full rounded-md px-1 text-left text-[11px] leading-4 text-quiet hover:bg-raised"
    >
      <span className="sr-only">Promises: </span>
      {seals.slice(0, Math.max(most, Math.min(broken, 3))).map((s) => {
        const { Sign, tone, words } = signs[s.state];
        return (
          <span key={s.promise.id} className="flex items-center gap-1">
            <Sign size={12} className={`shrink-0 ${tone}`} aria-label={words} />
            <span data-word="" className={`truncate ${s.state === "Broken" ? "text-wrong" : ""}`}>
              {s.sentence}
            </span>
          </span>
        );
      })}
      {seals.length > most && broken <= most && <span>and {seals.length - most} more</span>}
    </button>
  );
}
