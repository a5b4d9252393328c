import { Redo2, Undo2 } from "lucide-react";
import { useShow } from "@/core/commands/show";
import { useRedo, useUndo } from "@/core/commands/step";
import { clock } from "@/shared/look/format";
import { Button } from "@/shared/ui/Button";
import { LayerDialog } from "@/shared/ui/LayerDialog";
import { Failed, Loading } from "@/shared/ui/State";
import { useHistory, whose } from "./history";

/** What was done to the show, newest first; one line for all windows. */
export function HistoryDialog() {
  return (
    <LayerDialog
      title="History"
      words="Every change of this show, newest first, whichever window made it. Undo takes back the last one that stands."
    >
      <Lines />
    </LayerDialog>
  );
}

function Lines() {
  const history = useHistory();
  const show = useShow().data;
  const undo = useUndo();
  const redo = useRedo();
  if (history.isError) return <Failed error={history.error} retry={() => void history.refetch()} />;
  if (!history.data) return <Loading what="the history" />;
  if (history.data.length === 0) return <p className="text-quiet">Nothing has been changed yet.</p>;
  const toUndo = show?.toUndo;
  const toRedo = show?.toRedo;
  return (
    <>
      <div className="mb-3 flex gap-2">
        <Button icon={<Undo2 size={15} />} disabled={!toUndo || undo.isPending} onClick={() => undo.mutate()}>
          Undo
        </Button>
        <Button icon={<Redo2 size={15} />} disabled={!toRedo || redo.isPending} onClick={() => redo.mutate()}>
          Redo
        </Button>
      </div>
      <ol className="max-h-[calc(50*var(--vh))] overflow-auto text-[13px]">
        {history.data.map((line) => (
          <li
            key={line.revision}
            className={`grid grid-cols-[3rem_1fr] gap-x-2 border-line border-t py-1.5 ${line.kind === "Do" ? "" : "text-quiet"}`}
          >
            <time dateTime={line.at} className="text-xs leading-5 text-quiet">
              {clock(line.at)}
            </time>
            <span>
              {line.sentence}
              {line.revision === toUndo?.revision && <span className="text-quiet"> · undo takes this back</span>}
              <span className="block text-[11px] text-quiet">{whose(line)}</span>
            </span>
          </li>
        ))}
      </ol>
    </>
  );
}
