import { Ear, Radio, User } from "lucide-react";
import { useEffect, useRef } from "react";
import type { Processor, ProcessorType } from "@/core/api/client";
import { type Audition, isSame, type Wish } from "@/core/audio/wish";
import { tellServer } from "@/core/realtime/hub";
import { useOnAir } from "@/core/realtime/onAir";
import type { ChainPlace } from "@/features/chains/parts";
import { listen, useListening } from "@/features/listen";
import { signed } from "@/shared/look/format";
import { Choice } from "@/shared/ui/Choice";
import { compareOnAir, useWhoHears } from "./onAir";
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

interface HearProps {
  show: string;
  place: ChainPlace;
  /** Of one processor; otherwise of the whole chain. */
  processor?: string;
  name: string;
  forms: Form[];
}

/** Chooses what is heard of a chain: by this window alone, or, with and without, by all. */
export function HearRow({ show, place, processor, name, forms }: HearProps) {
  const all = useWhoHears((s) => s.all);
  const now = useListening((s) => s.wish);
  const difference = useListening((s) => s.difference);
  const onAir = useOnAir();
  const mine = onAir?.place === pointOf(place) && onAir.processor === (processor ?? null) ? onAir : null;
  const heard = forms.find((f) =>
    all ? mine !== null && isWithout(f) === (mine.isWithout || mine.isWaiting) : isSame(f.wish, now),
  );
  const choose = (form: Form) =>
    all
      ? void compareOnAir(show, place, processor, isWithout(form))
      : void listen(form === heard ? {} : form.wish, form.wish.audition ? `${name}: ${form.words.toLowerCase()}` : "");
  const Sign = all ? Radio : Ear;
  return (
    <fieldset className="flex min-w-0 flex-wrap items-center gap-1">
      <legend className="sr-only">{all ? `Let all hear ${name}` : `Hear ${name}, for yourself alone`}</legend>
      <Sign size={14} className={all ? "text-wrong" : heard ? "text-lamp-ink" : "text-quiet"} aria-hidden="true" />
      {forms
        .filter((form) => !all || form.wish.audition === undefined || form.wish.audition.kind === "Without")
        .map((form) => (
          <button
            key={form.words}
            type="button"
            aria-pressed={form === heard}
            title={
              all
                ? `${form.hint}. On air: all who hear it hear it so.`
                : `${form.hint}. For yourself alone: nobody else hears another sound for it.`
            }
            onClick={() => choose(form)}
            className={`h-7 rounded-md border px-2 text-xs ${form === heard ? (all ? "border-wrong bg-wrong/10" : "border-lamp bg-lamp/10 text-lamp-ink") : "border-line bg-raised hover:border-strong"}`}
          >
            {form.words}
          </button>
        ))}
      {!all && heard?.wish.audition?.kind === "Without" && (
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

const isWithout = (form: Form) => form.wish.audition !== undefined;

const hearers = [
  { value: "me", words: "For me alone", icon: <User size={12} /> },
  { value: "all", words: "On air", icon: <Radio size={12} /> },
] as const;

/** Says, and chooses, who hears what is chosen: oneself, or all. */
export function WhoHears({ show, place }: { show: string; place: ChainPlace }) {
  const all = useWhoHears((s) => s.all);
  const compared = useOnAir()?.place === pointOf(place);
  const had = useRef(false);
  // Wherever it was ended, from then on it is for oneself again.
  useEffect(() => {
    if (had.current && !compared) useWhoHears.setState({ all: false });
    had.current = compared;
  }, [compared]);
  return (
    <Choice
      label="Who hears it"
      value={all ? "all" : "me"}
      options={hearers}
      onChange={(to) => {
        useWhoHears.setState({ all: to === "all" });
        if (to === "all") {
          // Who compares for all hears what all hear; and the difference is measured from now on.
          if (useListening.getState().wish.audition) void listen(withAll(place));
          void compareOnAir(show, place, undefined, false);
        } else tellServer("EndOnAir");
      }}
    />
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
