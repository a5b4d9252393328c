import { ChevronDown, ChevronRight, CircleCheck, Copy, Printer } from "lucide-react";
import { useState } from "react";
import type { Card, Show } from "@/core/api/client";
import { useOneAtATime } from "@/core/commands/once";
import { tell } from "@/core/notices/notices";
import { Button } from "@/shared/ui/Button";
import { LayerDialog } from "@/shared/ui/LayerDialog";
import { Failed, Loading } from "@/shared/ui/State";
import { CardPicks } from "./CardPicks";
import { useCards, useSetCard } from "./cards";

/** For each program that takes part, what must be picked and set in it, and what it is now; to set, to copy, to print. */
export function CardsDialog({ show }: { show: Show }) {
  const cards = useCards();
  return (
    <LayerDialog
      wide
      title="What to pick where"
      words="For each program that takes part: what its lists must say, and what they say now. The computer’s own defaults first."
    >
      {cards.isError ? (
        <Failed error={cards.error} retry={() => void cards.refetch()} />
      ) : !cards.data ? (
        <Loading what="the cards" />
      ) : cards.data.cards.length === 0 ? (
        <p className="text-quiet">
          No program takes part in {show.name} yet: no source takes its sound, no cable leads to it, and the show wants
          nothing of it.
        </p>
      ) : (
        <All cards={cards.data.cards} show={show} />
      )}
    </LayerDialog>
  );
}

function All({ cards, show }: { cards: Card[]; show: Show }) {
  const wrong = cards.filter((c) => !c.isRight).length;
  const copy = async () => {
    const text = `${show.name}: what to pick where\n\n${cards.map((c) => c.text).join("\n\n")}\n`;
    try {
      await navigator.clipboard.writeText(text);
      tell("done", "Copied as text.");
    } catch {
      tell("wrong", "This browser does not let the page copy.", "Allowed: print it, or select it with the pointer.");
    }
  };
  return (
    <div data-print="">
      <div className="mb-2 flex flex-wrap items-center gap-2">
        <h3 className="hidden text-lg font-semibold print:block">{show.name}: what to pick where</h3>
        <p role="status" className="grow text-[13px] font-semibold">
          {wrong === 0
            ? "All is as it must be."
            : `${wrong} of ${cards.length} ${wrong === 1 ? "is" : "are"} not so yet.`}
        </p>
        <Button className="print:hidden" icon={<Copy size={14} />} onClick={() => void copy()}>
          Copy as text
        </Button>
        <Button className="print:hidden" icon={<Printer size={14} />} onClick={() => window.print()}>
          Print
        </Button>
      </div>
      {cards.map((c) => (
        <OneCard key={c.app ?? ""} card={c} />
      ))}
    </div>
  );
}

function OneCard({ card }: { card: Card }) {
  const [chosen, choose] = useState<boolean | null>(null);
  // What is right needs no reading; what was opened by hand stays as it was left.
  const open = chosen ?? !card.isRight;
  const { mutate, isPending } = useSetCard();
  const { begin, end } = useOneAtATime();
  const Fold = open ? ChevronDown : ChevronRight;
  const settable = card.picks.filter((p) => p.state === "Wrong" && p.fix).length;
  return (
    <section aria-label={card.title} className="break-inside-avoid border-line border-t py-2">
      <div className="flex items-center gap-2">
        <button
          type="button"
          aria-expanded={open}
          onClick={() => choose(!open)}
          className="flex min-w-0 grow items-baseline gap-1.5 rounded-md text-left hover:underline"
        >
          <Fold size={14} className="shrink-0 self-center text-quiet print:hidden" aria-hidden="true" />
          <span className="shrink-0 font-semibold">{card.title}</span>
          <span className="truncate text-xs text-quiet">{card.why}</span>
        </button>
        {card.isRight ? (
          <span className="flex shrink-0 items-center gap-1 text-xs text-quiet">
            <CircleCheck size={14} className="text-good" aria-hidden="true" />
            right
          </span>
        ) : (
          settable > 1 && (
            <Button
              tone="lamp"
              className="h-7 print:hidden"
              disabled={isPending}
              aria-label={`Set all of it in ${card.title}`}
              onClick={() => begin(() => mutate({ app: card.app ?? undefined }, { onSettled: end }))}
            >
              Set all of it
            </Button>
          )
        )}
      </div>
      <div className={open ? "mt-1 pl-5" : "mt-1 hidden pl-5 print:block"}>
        <CardPicks card={card} />
      </div>
    </section>
  );
}
