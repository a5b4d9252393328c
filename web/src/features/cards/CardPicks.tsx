import { CircleCheck, CircleHelp, CircleX } from "lucide-react";
import type { Card, CardPick } from "@/core/api/client";
import { useOneAtATime } from "@/core/commands/once";
import { Button } from "@/shared/ui/Button";
import { useSetCard } from "./cards";

const signs = {
  Right: { Sign: CircleCheck, tone: "text-good", words: "Right" },
  Open: { Sign: CircleHelp, tone: "text-lamp-ink", words: "Yours to decide" },
  Wrong: { Sign: CircleX, tone: "text-wrong", words: "Not yet" },
} as const;

/** What must be picked in one program, each with what it is now and the press that makes it so. */
export function CardPicks({ card, only }: { card: Card; only?: ReadonlySet<string> }) {
  return (
    <ul className="text-[13px]">
      {card.picks
        .filter((p) => !only || only.has(p.key))
        .map((p) => (
          <Line key={p.key} card={card} pick={p} />
        ))}
    </ul>
  );
}

function Line({ card, pick }: { card: Card; pick: CardPick }) {
  const { Sign, tone, words } = signs[pick.state];
  const { mutate, isPending } = useSetCard();
  const { begin, end } = useOneAtATime();
  const wrong = pick.state === "Wrong";
  return (
    <li className="grid grid-cols-[1.25rem_1fr] gap-x-2 py-1">
      <Sign size={16} className={`mt-0.5 ${tone}`} aria-label={words} />
      <div className="min-w-0">
        <p>
          {wrong ? (
            <>
              {pick.what} must be <b>{pick.wanted}</b>. Now it is {pick.now}.
            </>
          ) : (
            <>
              {pick.what}: <b className="font-medium">{pick.now}</b>.
            </>
          )}
        </p>
        {(pick.where || pick.notes.length > 0) && (
          <p className="text-xs text-quiet">
            {[pick.where && pick.state !== "Right" ? `Usually ${pick.where}.` : "", ...pick.notes].join(" ").trim()}
          </p>
        )}
        {pick.fix && (
          <Button
            tone={wrong ? "lit" : "quiet"}
            wraps
            className={`mt-1 print:hidden ${wrong ? "" : "-ml-2.5"}`}
            disabled={isPending}
            onClick={() => begin(() => mutate({ app: card.app ?? undefined, key: pick.key }, { onSettled: end }))}
          >
            {pick.fix.label}
          </Button>
        )}
      </div>
    </li>
  );
}
