import { Trash2, Undo2 } from "lucide-react";
import { duration } from "@/shared/look/format";
import { Button } from "@/shared/ui/Button";
import { Confirm } from "@/shared/ui/Dialog";
import { useBringBack, useDeletedTakes, useForgetTake } from "./takeChanges";

const day = new Intl.DateTimeFormat("en-GB", { dateStyle: "medium" });

/** Takes that were deleted: each can be brought back, or deleted for good. */
export function DeletedTakes() {
  const takes = useDeletedTakes().data ?? [];
  const { mutate: bringBack } = useBringBack();
  const { mutate: forget } = useForgetTake();
  if (takes.length === 0) return null;
  return (
    <section aria-label="Deleted takes" className="mt-5 max-w-5xl text-[13px]">
      <h2 className="font-semibold">Deleted</h2>
      <p className="text-quiet">They take room until they are deleted for good, 30 days after they were deleted.</p>
      <ul className="mt-1">
        {takes.map((take) => (
          <li key={take.id} className="flex flex-wrap items-center gap-x-3 border-line border-t py-1">
            <span className="min-w-0 grow truncate" title={take.name}>
              {take.name}{" "}
              <span className="text-quiet">
                {duration(take.seconds)}, deleted on {day.format(new Date(take.deletedAt ?? take.startedAt))}
              </span>
            </span>
            <Button
              small
              className="h-7"
              icon={<Undo2 size={14} />}
              aria-label={`Bring back ${take.name}`}
              onClick={() => bringBack(take.id)}
            >
              Bring back
            </Button>
            <Confirm
              trigger={
                <Button
                  small
                  tone="quiet"
                  className="h-7"
                  icon={<Trash2 size={14} />}
                  aria-label={`Delete for good: ${take.name}`}
                >
                  Delete for good
                </Button>
              }
              title={`Delete “${take.name}” for good?`}
              words="Its files are deleted from the disk. This cannot be taken back."
              action="Delete it for good"
              onConfirm={() => forget(take.id)}
            />
          </li>
        ))}
      </ul>
    </section>
  );
}
