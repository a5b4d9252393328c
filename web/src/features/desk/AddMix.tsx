import { type FormEvent, useId, useState } from "react";
import type { Mix, Show } from "@/core/api/client";
import { closeLayer } from "@/core/place/place";
import { Button } from "@/shared/ui/Button";
import { LayerDialog } from "@/shared/ui/LayerDialog";
import { useAddMix } from "./steps";

const purposes: { value: Mix["purpose"]; words: string }[] = [
  { value: "MyEars", words: "My own ears" },
  { value: "Viewers", words: "The audience" },
  { value: "Guest", words: "A caller: everything but himself" },
  { value: "Recording", words: "A recording" },
  { value: "Other", words: "Somebody else" },
];

/** A blend for one more listener. */
export function AddMix({ show }: { show: Show }) {
  return (
    <LayerDialog
      title="Add a mix"
      words="One more listener gets a lane. Each source is put where that kind of listener would want it; move it from there."
    >
      <Form show={show} close={closeLayer} />
    </LayerDialog>
  );
}

function Form({ show, close }: { show: Show; close: () => void }) {
  const [name, setName] = useState("");
  const [purpose, setPurpose] = useState<Mix["purpose"]>("Other");
  const [copyOf, setCopyOf] = useState("");
  const add = useAddMix();
  const id = useId();
  const taken = show.mixes.some((m) => m.name.toLowerCase() === name.trim().toLowerCase());
  const submit = (e: FormEvent) => {
    e.preventDefault();
    add.mutate({ name: name.trim(), purpose, copyOf: copyOf || null }, { onSuccess: close });
  };
  const field = "h-8 rounded-md border border-line bg-ground px-2";
  return (
    <form onSubmit={submit} className="flex flex-col gap-3">
      <div className="grid grid-cols-[5.5rem_minmax(0,1fr)] items-center gap-2">
        <label htmlFor={`${id}-name`} className="text-[13px] text-quiet">
          Name
        </label>
        <input
          id={`${id}-name`}
          value={name}
          maxLength={60}
          onChange={(e) => setName(e.target.value)}
          className={field}
        />
        {taken && <p className="col-start-2 text-xs text-wrong">Another mix has this name.</p>}
        <label htmlFor={`${id}-for`} className="text-[13px] text-quiet">
          For
        </label>
        <select
          id={`${id}-for`}
          value={purpose}
          onChange={(e) => setPurpose(e.target.value as Mix["purpose"])}
          className={field}
        >
          {purposes.map((p) => (
            <option key={p.value} value={p.value}>
              {p.words}
            </option>
          ))}
        </select>
        <label htmlFor={`${id}-copy`} className="text-[13px] text-quiet">
          Begins as
        </label>
        <select id={`${id}-copy`} value={copyOf} onChange={(e) => setCopyOf(e.target.value)} className={field}>
          <option value="">Proposed places</option>
          {show.mixes.map((m) => (
            <option key={m.id} value={m.id}>
              A copy of {m.name}
            </option>
          ))}
        </select>
      </div>
      <div className="flex justify-end gap-2">
        <Button onClick={close}>Cancel</Button>
        <Button type="submit" tone="lamp" disabled={name.trim() === "" || taken || add.isPending}>
          Add it
        </Button>
      </div>
    </form>
  );
}
