import { Download, Trash2 } from "lucide-react";
import { useId, useState } from "react";
import type { OwnPreset, Processor } from "@/core/api/client";
import { useOneAtATime } from "@/core/commands/once";
import { presetUrl, useOwnPresets, usePresetChange } from "@/features/chains/parts";
import { Button } from "@/shared/ui/Button";
import { Confirm, Dialog } from "@/shared/ui/Dialog";
import { PickJson } from "@/shared/ui/PickJson";

const field = "h-8 w-full rounded-md border border-line bg-ground px-2 text-[13px]";
const longestSays = 300;

interface Props {
  open: boolean;
  onOpenChange: (open: boolean) => void;
  chain: Processor[];
}

/** Keeps the chain that is shown, and gives names to those that are kept; in and out as files. */
export function OwnPresetsDialog({ open, onOpenChange, chain }: Props) {
  const own = useOwnPresets().data ?? [];
  const change = usePresetChange();
  return (
    <Dialog
      open={open}
      onOpenChange={onOpenChange}
      wide
      title="Kept chains"
      words="For every show. What a chain listens to is of its show, and is not kept with it."
    >
      <Keep chain={chain} />
      <h3 className="mt-5 mb-1 text-xs font-semibold text-quiet">Kept so far</h3>
      {own.length === 0 && <p className="text-[13px] text-quiet">Nothing yet.</p>}
      <ul className="grid gap-2">
        {own.map((preset) => (
          <Kept key={preset.id} preset={preset} />
        ))}
      </ul>
      <div className="mt-4">
        <PickJson
          label="A chain file"
          words="Import a chain file"
          disabled={change.isPending}
          onFile={async (file) => change.mutate({ kind: "bringIn", text: await file.text() })}
        />
      </div>
    </Dialog>
  );
}

function Keep({ chain }: { chain: Processor[] }) {
  const change = usePresetChange();
  const once = useOneAtATime();
  const [name, setName] = useState("");
  const [says, setSays] = useState("");
  const id = useId();
  if (chain.length === 0)
    return <p className="text-[13px] text-quiet">This chain has no processors: there is nothing to keep.</p>;
  return (
    <form
      className="grid grid-cols-[7rem_minmax(0,1fr)] items-center gap-2"
      onSubmit={(e) => {
        e.preventDefault();
        if (!name.trim()) return;
        once.begin(() =>
          change.mutate(
            { kind: "keep", name: name.trim(), says: says.trim(), chain },
            {
              onSuccess: () => {
                setName("");
                setSays("");
              },
              onSettled: once.end,
            },
          ),
        );
      }}
    >
      <label htmlFor={`${id}-name`} className="text-[13px]">
        Keep it as
      </label>
      <input
        id={`${id}-name`}
        value={name}
        maxLength={60}
        onChange={(e) => setName(e.target.value)}
        className={field}
      />
      <label htmlFor={`${id}-says`} className="text-[13px]">
        What it is for
      </label>
      <input
        id={`${id}-says`}
        value={says}
        maxLength={longestSays}
        onChange={(e) => setSays(e.target.value)}
        className={field}
      />
      <div className="col-start-2">
        <Button type="submit" tone="lit" disabled={!name.trim() || change.isPending}>
          Keep this chain
        </Button>
      </div>
    </form>
  );
}

function Kept({ preset }: { preset: OwnPreset }) {
  const change = usePresetChange();
  const [name, setName] = useState(preset.name);
  const [says, setSays] = useState(preset.says);
  const store = () => {
    if (!name.trim()) setName(preset.name);
    else if (name.trim() !== preset.name || says.trim() !== preset.says)
      change.mutate({ kind: "change", preset: preset.id, name: name.trim(), says: says.trim() });
  };
  return (
    <li aria-label={preset.name} className="flex flex-wrap items-center gap-2 rounded-md border border-line p-2">
      <input
        aria-label={`Name of ${preset.name}`}
        value={name}
        maxLength={60}
        onChange={(e) => setName(e.target.value)}
        onBlur={store}
        className={`${field} max-w-44 font-medium`}
      />
      <input
        aria-label={`What ${preset.name} is for`}
        value={says}
        maxLength={longestSays}
        placeholder="What it is for"
        onChange={(e) => setSays(e.target.value)}
        onBlur={store}
        className={`${field} min-w-40 flex-1`}
      />
      <span className="text-xs text-quiet">
        {preset.chain.length} {preset.chain.length === 1 ? "processor" : "processors"}
      </span>
      <a
        href={presetUrl(preset.id)}
        download=""
        aria-label={`Export ${preset.name} as a file`}
        title="Export it as a file"
        className="grid size-8 place-items-center rounded-md text-quiet hover:text-ink"
      >
        <Download size={15} />
      </a>
      <Confirm
        trigger={
          <Button
            tone="quiet"
            square
            aria-label={`Forget ${preset.name}`}
            title="Forget it"
            icon={<Trash2 size={14} />}
          />
        }
        title={`Forget “${preset.name}”?`}
        words="Where it is used, nothing changes. It cannot be brought back, unless as a file."
        action="Forget it"
        onConfirm={() => change.mutate({ kind: "remove", preset: preset.id })}
      />
    </li>
  );
}
