import { RadioGroup } from "radix-ui";
import { type ComponentType, useState } from "react";
import type { Gear, Show } from "@/core/api/client";
import { tell } from "@/core/notices/notices";
import { closeLayer } from "@/core/place/place";
import { DialogForm } from "@/shared/forms/DialogForm";
import { NameRow } from "@/shared/forms/NameRow";
import { isTaken } from "@/shared/forms/names";
import { Rows } from "@/shared/forms/Row";
import { Button } from "@/shared/ui/Button";
import { Choice } from "@/shared/ui/Choice";
import { LayerDialog } from "@/shared/ui/LayerDialog";
import { Level } from "@/shared/ui/Level";
import { Loading } from "@/shared/ui/State";
import { candidates, type Sort } from "./candidates";
import { useAddTaken } from "./gear";
import { useGear } from "./known";
import { usesPractice, useWanted } from "./wanted";

const sorts: readonly { value: Sort; words: string; isPractice?: boolean }[] = [
  { value: "people", words: "Person or instrument", isPractice: true },
  { value: "programs", words: "Program", isPractice: true },
  { value: "rest", words: "Everything else", isPractice: true },
  { value: "cables", words: "Cable" },
];

/** A sort of thing that is found and named in another way. */
export interface OtherSort {
  value: string;
  words: string;
  Form: ComponentType<{ show: Show; close: () => void }>;
}

/** Makes a source of anything that can sound: what kind, which one, its name. */
export function AddSource({ show, others }: { show: Show; others: readonly OtherSort[] }) {
  const gear = useGear().data;
  const { wanted, want } = useWanted();
  const practice = wanted || usesPractice(show);
  const own = sorts.filter((s) => practice || !s.isPractice);
  const [sort, setSort] = useState<string>(practice ? "people" : "");
  const other = others.find((o) => o.value === sort);
  return (
    <LayerDialog
      title="Add a source"
      words="Choose what kind of thing it is, then the one whose bar moves, and give it a name that helps."
    >
      <div className="mb-3 flex flex-col items-start gap-2">
        <Choice label="What kind of thing" value={sort} options={[...own, ...others]} onChange={setSort} />
        {!practice && (
          <Button small tone="quiet" className="h-7" onClick={() => want(true)}>
            Offer the practice computer too
          </Button>
        )}
      </div>
      {other ? (
        <other.Form show={show} close={closeLayer} />
      ) : sort === "" ? null : gear ? (
        <Form key={sort} sort={sort as Sort} gear={gear} show={show} />
      ) : (
        <Loading what="the computer" />
      )}
    </LayerDialog>
  );
}

function Form({ sort, gear, show }: { sort: Sort; gear: Gear; show: Show }) {
  const all = candidates(sort, gear, show);
  const only = all.length === 1 ? all[0] : undefined;
  const [key, setKey] = useState(only?.key ?? "");
  const [names, setNames] = useState<(string | undefined)[]>([]);
  const add = useAddTaken();
  const chosen = all.find((c) => c.key === key);
  // What a person has typed stays.
  const nameOf = (i: number) => names[i] ?? (i === 0 ? chosen?.name : chosen?.and?.[i - 1]?.name) ?? "";
  const count = 1 + (chosen?.and?.length ?? 0);
  const typed = Array.from({ length: count }, (_, i) => nameOf(i).trim());
  const wrong = typed.some((name, i) => name === "" || isTaken(name, show.sources) || typed.indexOf(name) < i);
  const submit = () => {
    if (!chosen) return;
    const { input, kind } = chosen;
    add.mutate(
      {
        input,
        kind,
        name: typed[0] ?? "",
        and: (chosen.and ?? []).map((o, i) => ({ input: o.input, kind, name: typed[i + 1] })),
      },
      {
        onSuccess: () => {
          tell(
            "done",
            count === 1 ? `${typed[0]} is a source now.` : `${typed.join(" and ")} are sources now.`,
            "Each listener’s lane has it where its kind belongs.",
          );
          closeLayer();
        },
      },
    );
  };
  return (
    <DialogForm
      act={add.isPending ? "Adding …" : count > 1 ? "Add them" : "Add it"}
      ready={chosen !== undefined && !wrong}
      pending={add.isPending}
      error={add.error}
      onCancel={closeLayer}
      onSubmit={submit}
    >
      {all.length === 0 ? (
        <p className="text-[13px] text-quiet">
          {sort === "cables" ? "There is no cable yet." : "Nothing of that kind runs: a program is there once it runs."}
        </p>
      ) : (
        <RadioGroup.Root
          value={key}
          onValueChange={setKey}
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
        {typed.map((_, i) => (
          <NameRow
            // biome-ignore lint/suspicious/noArrayIndexKey: the first person stays the first
            key={i}
            label={count > 1 ? `Name, input ${i + 1}` : "Name"}
            value={nameOf(i)}
            others={show.sources}
            of="source"
            onChange={(name) => setNames((old) => Object.assign([...old], { [i]: name }))}
          />
        ))}
      </Rows>
    </DialogForm>
  );
}
