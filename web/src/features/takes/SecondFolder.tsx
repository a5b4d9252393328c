import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { type FormEvent, useId, useState } from "react";
import { answer, api } from "@/core/api/client";
import { useOneAtATime } from "@/core/commands/once";
import { Problems } from "@/shared/forms/Problems";
import { Button } from "@/shared/ui/Button";
import { Dialog } from "@/shared/ui/Dialog";

const key = ["takes", "second-folder"] as const;

function useSecondFolder() {
  return useQuery({ queryKey: key, queryFn: () => answer(api.GET("/api/takes/second-folder")) });
}

function useSetSecondFolder() {
  const queries = useQueryClient();
  const { begin, end } = useOneAtATime();
  const { mutate, isPending, error } = useMutation({
    mutationFn: (path: string | null) => answer(api.PUT("/api/takes/second-folder", { body: { path } })),
    onSuccess: (folder) => queries.setQueryData(key, folder),
    onSettled: end,
  });
  return {
    mutate: (path: string | null, onSuccess: () => void) => begin(() => mutate(path, { onSuccess })),
    isPending,
    error,
  };
}

/** Where takes are written: to one folder, or to a second one too. */
export function SecondFolder() {
  const folder = useSecondFolder().data;
  const [asks, setAsks] = useState(false);
  if (!folder) return null;
  const words = folder.path ? `to ${folder.path} too` : "to one folder";
  return (
    <>
      It is written{" "}
      <button
        type="button"
        aria-label={`Where a take is written: ${words}`}
        className="inline max-w-full rounded-sm text-left font-medium break-all underline decoration-strong decoration-dotted decoration-1 underline-offset-4 hover:bg-raised hover:decoration-solid"
        onClick={() => setAsks(true)}
      >
        {words}
      </button>
      {folder.path !== null && !folder.isThere && <span className="text-wrong"> (which is not there now)</span>}.
      {folder.path !== null && folder.isThere && ` There: ${folder.room}`}
      <Dialog
        open={asks}
        onOpenChange={setAsks}
        title="A second folder"
        words="Every take is written there at the same time. Best on another disk: where one of both takes no more, the take goes on in the other."
      >
        <FolderForm path={folder.path} done={() => setAsks(false)} />
      </Dialog>
    </>
  );
}

function FolderForm({ path, done }: { path: string | null; done: () => void }) {
  const set = useSetSecondFolder();
  const [text, setText] = useState(path ?? "");
  const id = useId();
  const save = (e: FormEvent) => {
    e.preventDefault();
    set.mutate(text.trim() === "" ? null : text, done);
  };
  return (
    <form className="grid gap-3 text-[13px]" onSubmit={save}>
      <div className="grid gap-1">
        <label htmlFor={id} className="text-quiet">
          Folder, its whole path
        </label>
        <input
          id={id}
          value={text}
          placeholder="/media/another-disk/takes"
          maxLength={1000}
          autoComplete="off"
          spellCheck={false}
          onChange={(e) => setText(e.target.value)}
          className="h-8 min-w-0 rounded-md border border-line bg-ground px-2 hover:border-strong"
        />
      </div>
      <Problems error={set.error} />
      <div className="flex flex-wrap justify-end gap-2">
        {path !== null && (
          <Button disabled={set.isPending} onClick={() => set.mutate(null, done)}>
            One folder is enough
          </Button>
        )}
        <Button type="submit" tone="lamp" disabled={set.isPending}>
          Write there too
        </Button>
      </div>
    </form>
  );
}
