import { useId, useState } from "react";
import type { Mix, Show } from "@/core/api/client";
import { closeLayer } from "@/core/place/place";
import { DialogForm } from "@/shared/forms/DialogForm";
import { NameRow } from "@/shared/forms/NameRow";
import { isTaken } from "@/shared/forms/names";
import { fieldLook, Row, Rows } from "@/shared/forms/Row";
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
  const ready = name.trim() !== "" && !isTaken(name, show.mixes);
  const submit = () => add.mutate({ name: name.trim(), purpose, copyOf: copyOf || null }, { onSuccess: close });
  return (
    <DialogForm act="Add it" ready={ready} pending={add.isPending} error={add.error} onSubmit={submit} onCancel={close}>
      <Rows>
        <NameRow value={name} others={show.mixes} of="mix" onChange={setName} />
        <Row label="For" id={`${id}-for`}>
          <select
            id={`${id}-for`}
            value={purpose}
            onChange={(e) => setPurpose(e.target.value as Mix["purpose"])}
            className={fieldLook}
          >
            {purposes.map((p) => (
              <option key={p.value} value={p.value}>
                {p.words}
              </option>
            ))}
          </select>
        </Row>
        <Row label="Begins as" id={`${id}-copy`}>
          <select id={`${id}-copy`} value={copyOf} onChange={(e) => setCopyOf(e.target.value)} className={fieldLook}>
            <option value="">Proposed places</option>
            {show.mixes.map((m) => (
              <option key={m.id} value={m.id}>
                A copy of {m.name}
              </option>
            ))}
          </select>
        </Row>
      </Rows>
    </DialogForm>
  );
}
