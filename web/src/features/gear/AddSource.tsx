import { RadioGroup } from "radix-ui";
import { useState } from "react";
import type { Gear, Show } from "@/core/api/client";
import { tell } from "@/core/notices/notices";
import { closeLayer } from "@/core/place/place";
import { DialogForm } from "@/shared/forms/DialogForm";
import { NameRow } from "@/shared/forms/NameRow";
import { isTaken } from "@/shared/forms/names";
import { Rows } from "@/shared/forms/Row";
import { Choice } from "@/shared/ui/Choice";
import { LayerDialog } from "@/shared/ui/LayerDialog";
import { Loading } from "@/shared/ui/State";
import { candidates, type Sort } from "./candidates";
import { useAddTaken } from "./gear";
import { useGear } from "./known";
import { Level } from "./Level";

const sorts: readonly { value: Sort; words: string }[] = [
  { value: "people", words: "Person or instrument" },
  { value: "programs", words: "Program" },
  { value: "cables", words: "Cable" },
  { value: "rest", words: "Everything else" },
];

/** Makes a source of anything that can sound: what kind, which one, its name. */
export function AddSource({ show }: { show: Show }) {
  const gear = useGear().data;
  return (
    <LayerDialog
      title="Add a source"
      words="Choose what kind of thing it is, then the one whose bar moves, and give it a name that helps."
    >
      {gear ? <Form gear={gear} show={show} /> : <Loading what="the computer" />}
    </LayerDialog>
  );
}

function Form({ gear, show }: { gear: Gear; show: Show }) {
  const [sort, setSort] = useState<Sort>("people");
  const [key, setKey] = useState("");
  const [name, setName] = useState("");
  const add = useAddTaken();
  const all = candidates(sort, gear, show);
  const chosen = all.find((c) => c.key === key);
  const choose = (next: string, among = all) => {
    const to = among.find((c) => c.key === next);
    setKey(next);
    // What a person has typed stays.
    if (to && (name === "" || name === chosen?.name)) setName(to.name);
  };
  const submit = () => {
    if (!chosen) return;
    add.mutate(
      { input: chosen.input, name: name.trim(), kind: chosen.kind },
      {
        onSuccess: () => {
          tell("done", `${name.trim()} is a source now.`, "Each listener’s lane has it where its kind belongs.");
          closeLayer();
        },
      },
    );
  };
  return (
    <DialogForm
      act={add.isPending ? "Adding …" : "Add it"}
      ready={chosen !== undefined && name.trim() !== "" && !isTaken(name, show.sources)}
      pending={add.isPending}
      error={add.error}
      onCancel={closeLayer}
      onSubmit={submit}
    >
      <Choice
        label="What kind of thing"
        value={sort}
        options={sorts}
        onChange={(next) => {
          setSort(next);
          const among = candidates(next, gear, show);
          choose(among.length === 1 ? (among[0]?.key ?? "") : "", among);
        }}
      />
      {all.length === 0 ? (
        <p className="text-[13px] text-quiet">
          {sort === "cables" ? "There is no cable yet." : "Nothing of that kind runs: a program is there once it runs."}
        </p>
      ) : (
        <RadioGroup.Root
          value={key}
          onValueChange={(next) => choose(next)}
          aria-label="Which one"
          className="max-h-64 overflow-auto rounded-md border border-line"
        >
          {all.map((c) => (
            <label
              key={c.key}
              htmlFor={`candidate ${c.key}`}
              className="flex min-h-9 cursor-pointer items-center gap-3 border-line border-b px-3 py-1 text-[13px] last:border-b-0 hover:bg-raised has-data-[state=checked]:bg-raised"
            >
              <RadioGroup.Item
                id={`candidate ${c.key}`}
                value={c.key}
                aria-label={c.hint ? `${c.words}, ${c.hint}` : c.words}
                className="grid size-4 shrink-0 place-items-center rounded-full border border-strong"
              >
                <RadioGroup.Indicator className="size-2 rounded-full bg-ink" />
              </RadioGroup.Item>
              <Level points={c.points} flat />
              <span className="min-w-0 grow">
                {c.words}
                {c.hint && <span className="ml-2 text-xs text-quiet">{c.hint}</span>}
              </span>
            </label>
          ))}
        </RadioGroup.Root>
      )}
      <Rows>
        <NameRow value={name} others={show.sources} of="source" onChange={setName} />
      </Rows>
    </DialogForm>
  );
}
