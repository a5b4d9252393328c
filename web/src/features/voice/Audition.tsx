import { Ear, User } from "lucide-react";
import { useEffect } from "react";
import type { Processor, ProcessorType } from "@/core/api/client";
import { type Audition, isSame, type Wish } from "@/core/audio/wish";
import type { ChainPlace } from "@/features/chains/parts";
import { listen, useListening } from "@/features/listen";
import { signed } from "@/shared/look/format";
import { pointOf } from "./stages";

interface Form {
  words: string;
  hint: string;
  wish: Wish;
}

/** What is heard with the chain as it is. */
const withAll = (place: ChainPlace): Wish => (place.mix === undefined ? { source: place.source } : { mix: place.mix });

/** What can be heard of a chain: with it, and without it. */
export function formsOf(place: ChainPlace): Form[] {
  const audition: Audition = { place: pointOf(place), kind: "Without" };
  return [
    { words: "With", hint: "As it is: what all who hear it get", wish: withAll(place) },
    { words: "Without", hint: "Without the whole chain, as loud as with it", wish: { audition } },
  ];
}

/** What can be heard of one processor: without it, only what it changes, one of its bands alone. */
export function formsOfStage(
  place: ChainPlace,
  processor: Processor,
  type: ProcessorType,
  values: Record<string, number>,
): Form[] {
  const of = { place: pointOf(place), processor: processor.id };
  const changes = { deEsser: "Only the sharp sounds that it takes", exciter: "Only what it adds" } as Record<
    string,
    string
  >;
  return [
    { words: "With it", hint: "As it is: what all who hear it get", wish: withAll(place) },
    {
      words: "Without it",
      hint: "The chain without this one, as loud as with it",
      wish: { audition: { ...of, kind: "Without" } },
    },
    ...(Object.keys(type.neutral).length > 0
      ? [
          {
            words:
              type.key === "exciter"
                ? "Only what it adds"
                : type.key === "deEsser"
                  ? "Only what it takes"
                  : "Only its change",
            hint: changes[type.key] ?? "Only the difference that it makes",
            wish: { audition: { ...of, kind: "Change" as const } },
          },
        ]
      : []),
    ...Array.from({ length: type.parts }, (_, part) => part).flatMap((part) =>
      values[`shape${part + 1}`] === 0
        ? []
        : [
            {
              words: `Band ${part + 1} alone`,
              hint: "Only what lies in this band, as it goes in",
              wish: { audition: { ...of, kind: "Part" as const, part } },
            },
          ],
    ),
  ];
}

/** Chooses what this window alone hears of a chain; the same again stops it. */
export function HearRow({ label, name, forms }: { label: string; name: string; forms: Form[] }) {
  const now = useListening((s) => s.wish);
  const difference = useListening((s) => s.difference);
  const heard = forms.find((f) => isSame(f.wish, now));
  return (
    <fieldset className="flex min-w-0 flex-wrap items-center gap-1">
      <legend className="sr-only">{label}</legend>
      <Ear size={14} className={heard ? "text-lamp-ink" : "text-quiet"} aria-hidden="true" />
      {forms.map((form) => (
        <button
          key={form.words}
          type="button"
          aria-pressed={form === heard}
          title={`${form.hint}. For yourself alone: nobody else hears another sound for it.`}
          onClick={() =>
            void listen(
              form === heard ? {} : form.wish,
              form.wish.audition ? `${name}: ${form.words.toLowerCase()}` : "",
            )
          }
          className={`h-7 rounded-md border px-2 text-xs ${form === heard ? "border-lamp bg-lamp/10 text-lamp-ink" : "border-line bg-raised hover:border-strong"}`}
        >
          {form.words}
        </button>
      ))}
      {heard?.wish.audition?.kind === "Without" && (
        <span
          role="status"
          title="As loud as with it: both are measured, and the difference is made up for"
          className="text-xs text-quiet"
        >
          {difference === null ? "measuring …" : `${signed(difference)} LU made up`}
        </span>
      )}
    </fieldset>
  );
}

/** Says who hears what is chosen: oneself. */
export function ForOneself() {
  return (
    <span className="flex items-center gap-1 text-xs text-quiet" title="What you choose here, only this window hears">
      <User size={12} aria-hidden="true" /> for you alone
    </span>
  );
}

/** What only the workshop can show that it is heard ends with it, and with the processor that it is of. */
export function useAuditionEnds(place: ChainPlace, chain: readonly Processor[]) {
  const point = pointOf(place);
  useEffect(
    () => () => {
      if (useListening.getState().wish.audition?.place === point) void listen({});
    },
    [point],
  );
  const audition = useListening((s) => s.wish.audition);
  const gone =
    audition?.place === point &&
    (audition.processor === undefined ? chain.length === 0 : !chain.some((p) => p.id === audition.processor));
  useEffect(() => {
    if (gone) void listen(withAll(place));
  });
}
