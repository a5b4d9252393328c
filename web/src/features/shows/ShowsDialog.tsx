import { Copy, FileDown, Pencil, Play, Plus, Trash2, Undo2 } from "lucide-react";
import { useState } from "react";
import type { ShowListItem } from "@/core/api/client";
import { RenameField } from "@/shared/forms/RenameField";
import { Button } from "@/shared/ui/Button";
import { LayerDialog } from "@/shared/ui/LayerDialog";
import { PickJson } from "@/shared/ui/PickJson";
import { Failed, faultOf, Loading } from "@/shared/ui/State";
import {
  useAddShow,
  useBringBackShow,
  useImportShow,
  useOpenShow,
  usePutAwayShow,
  useRenameShow,
  useShows,
} from "./shows";

/** All shows: to open, copy, rename, delete and bring back. */
export function ShowsDialog() {
  return (
    <LayerDialog
      title="Shows"
      words="One show is live at a time. Opening another fades over to it within half a second."
    >
      <List />
    </LayerDialog>
  );
}

function List() {
  const shows = useShows();
  const add = useAddShow();
  const bringBack = useBringBackShow();
  const bringIn = useImportShow();
  const fault = faultOf(shows);
  if (fault) return <Failed error={fault} retry={() => void shows.refetch()} />;
  if (!shows.data) return <Loading what="the shows" />;
  const kept = shows.data.filter((s) => s.deletedAt === null);
  const deleted = shows.data.filter((s) => s.deletedAt !== null);
  return (
    <>
      <ul>
        {kept.map((show) => (
          <Item key={show.id} show={show} />
        ))}
      </ul>
      <div className="mt-3 flex flex-wrap gap-2">
        <Button icon={<Plus size={15} />} disabled={add.isPending} onClick={() => add.mutate({})}>
          New show
        </Button>
        <PickJson
          label="A show file"
          words="Import a show file"
          disabled={bringIn.isPending}
          onFile={(file) => bringIn.mutate(file)}
        />
      </div>
      {deleted.length > 0 && (
        <section aria-label="Deleted shows" className="mt-4 border-line border-t pt-3">
          <h3 className="mb-1 text-xs font-semibold text-quiet">Deleted</h3>
          <ul>
            {deleted.map((show) => (
              <li key={show.id} className="flex items-center gap-2 py-0.5 text-[13px] text-quiet">
                <span className="min-w-0 grow truncate">{show.name}</span>
                <Button tone="quiet" icon={<Undo2 size={14} />} onClick={() => bringBack.mutate(show.id)}>
                  Bring back
                </Button>
              </li>
            ))}
          </ul>
        </section>
      )}
    </>
  );
}

function Item({ show }: { show: ShowListItem }) {
  const [isRenamed, setRenamed] = useState(false);
  const open = useOpenShow();
  const add = useAddShow();
  const rename = useRenameShow();
  const putAway = usePutAwayShow();
  const count = (n: number, of: string) => `${n} ${of}${n === 1 ? "" : of.endsWith("x") ? "es" : "s"}`;
  if (isRenamed) {
    return (
      <li className="border-line border-t py-2">
        <RenameField
          label={`Name of ${show.name}`}
          name={show.name}
          focusKey={`rename/${show.id}`}
          onDone={(name) => {
            if (name !== null) rename.mutate({ show: show.id, name });
            setRenamed(false);
          }}
        />
      </li>
    );
  }
  return (
    <li className="flex flex-wrap items-center gap-1 border-line border-t py-2">
      <div className="min-w-32 grow basis-32">
        <p className="font-medium break-words">{show.name}</p>
        <p className="text-xs text-quiet">
          {count(show.sources, "source")}, {count(show.mixes, "mix")}
        </p>
        {show.damaged && <p className="text-xs break-words text-wrong">Damaged: it cannot be opened. {show.damaged}</p>}
      </div>
      {show.damaged ? null : show.live ? (
        <span className="px-2.5 text-[13px] font-semibold text-lamp-ink">Live</span>
      ) : (
        <Button
          icon={<Play size={14} />}
          aria-label={`Open ${show.name}`}
          disabled={open.isPending}
          onClick={() => open.mutate(show.id)}
        >
          Open
        </Button>
      )}
      <IconButton
        label={`Duplicate ${show.name}`}
        icon={<Copy size={15} />}
        disabled={show.damaged !== null}
        onClick={() => add.mutate({ copyOf: show.id })}
      />
      <a
        href={`/api/shows/${show.id}/file`}
        download
        aria-label={`Export ${show.name} as a file`}
        title={`Export ${show.name} as a file`}
        className="grid h-8 w-8 place-items-center rounded-md text-quiet hover:bg-raised hover:text-ink"
      >
        <FileDown size={15} />
      </a>
      <IconButton
        label={`Rename ${show.name}`}
        icon={<Pencil size={15} />}
        focusKey={`rename/${show.id}`}
        onClick={() => setRenamed(true)}
      />
      <IconButton
        label={show.live ? `${show.name} is live and cannot be deleted` : `Delete ${show.name}`}
        icon={<Trash2 size={15} />}
        disabled={show.live}
        onClick={() => putAway.mutate(show.id)}
      />
    </li>
  );
}

function IconButton({
  label,
  focusKey,
  ...rest
}: {
  label: string;
  focusKey?: string;
  icon: React.ReactNode;
  disabled?: boolean;
  onClick: () => void;
}) {
  return <Button tone="quiet" square aria-label={label} title={label} data-focus={focusKey} {...rest} />;
}
