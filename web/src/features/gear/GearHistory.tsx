import type { GearHistoryLine } from "@/core/api/client";
import { useOneAtATime } from "@/core/commands/once";
import { clock } from "@/shared/look/format";
import { Button } from "@/shared/ui/Button";
import { LayerDialog } from "@/shared/ui/LayerDialog";
import { Failed, Loading } from "@/shared/ui/State";
import { useGearHistory, useTakeGearBack } from "./gear";

/** What was changed of the computer, newest first, and by whom. */
export function GearHistory() {
  return (
    <LayerDialog
      title="What was changed of the computer"
      words="Newest first, with who did it: a person, an installation, or the show. It is the computer’s own history: undo does not touch it. What is taken back leaves alone what was changed again since."
    >
      <Lines />
    </LayerDialog>
  );
}

function Lines() {
  const history = useGearHistory();
  const { mutate, isPending } = useTakeGearBack();
  const { begin, end } = useOneAtATime();
  if (history.isError) return <Failed error={history.error} retry={() => void history.refetch()} />;
  if (!history.data) return <Loading what="the history" />;
  if (history.data.length === 0) return <p className="text-quiet">Nothing has been changed yet.</p>;
  return (
    <ol className="max-h-[calc(50*var(--vh))] overflow-auto text-[13px]">
      {[...history.data].reverse().map((line, i) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: two lines can be the same, and none ever moves
        <li key={i} className="grid grid-cols-[3rem_1fr_auto] gap-x-2 border-line border-t py-1.5">
          <time dateTime={line.at} className="text-xs leading-5 text-quiet">
            {clock(line.at)}
          </time>
          <span>
            {line.sentence}
            <span className="block text-[11px] text-quiet">{by(line)}</span>
          </span>
          {line.number !== null && (
            <Button
              small
              tone="quiet"
              className="h-6"
              disabled={isPending}
              aria-label={`Take it back: ${line.sentence}`}
              onClick={() => begin(() => mutate(line.number ?? 0, { onSettled: end }))}
            >
              Take it back
            </Button>
          )}
        </li>
      ))}
    </ol>
  );
}

function by(line: GearHistoryLine): string {
  if (line.by === "Show") return "the show";
  if (line.by === "Installation") return "an installation";
  return line.window === null ? "a person" : `a person, in ${line.window}`;
}
