import { useState } from "react";
import type { Show } from "@/core/api/client";
import { closeLayer } from "@/core/place/place";
import { DialogForm } from "@/shared/forms/DialogForm";
import { NameRow } from "@/shared/forms/NameRow";
import { isTaken } from "@/shared/forms/names";
import { Row, Rows } from "@/shared/forms/Row";
import { LayerDialog } from "@/shared/ui/LayerDialog";
import { OneOf } from "@/shared/ui/OneOf";
import { Loading } from "@/shared/ui/State";
import { useJoinDevices } from "./gear";
import { useGear } from "./known";

const places = ["First", "Second", "Third", "Fourth"];

/** Makes several devices one, in the order of its channels. */
export function JoinDevices(_: { show: Show }) {
  const gear = useGear().data;
  return (
    <LayerDialog
      title="Join devices"
      words="Several devices become one: its channels are theirs, one after the other. The first gives the clock; the others are brought to it."
    >
      {gear ? <Form devices={gear.devices} /> : <Loading what="the devices" />}
    </LayerDialog>
  );
}

function Form({ devices }: { devices: NonNullable<ReturnType<typeof useGear>["data"]>["devices"] }) {
  const [members, setMembers] = useState<string[]>([]);
  const [name, setName] = useState("");
  const join = useJoinDevices();
  const chosen = members.filter((m) => m !== "");
  const open = Math.min(places.length, Math.max(2, members.length + 1));
  return (
    <DialogForm
      act={join.isPending ? "Joining …" : "Join them"}
      ready={chosen.length > 1 && name.trim() !== "" && !isTaken(name, devices)}
      pending={join.isPending}
      error={join.error}
      onCancel={closeLayer}
      onSubmit={() => join.mutate({ name: name.trim(), members: chosen }, { onSuccess: () => closeLayer() })}
    >
      <Rows>
        <NameRow value={name} others={devices} of="device" onChange={setName} />
        {places.slice(0, open).map((place, i) => (
          <Row key={place} label={place}>
            <OneOf
              label={`${place} device`}
              value={members[i]}
              empty={i === 0 ? "First device" : `${place} device`}
              options={devices
                .filter((d) => d.joins.length === 0 && (d.id === members[i] || !members.includes(d.id)))
                .map((d) => ({ value: d.id, words: d.name }))}
              onChange={(device) => setMembers((old) => [...old.slice(0, i), device, ...old.slice(i + 1)])}
            />
          </Row>
        ))}
      </Rows>
    </DialogForm>
  );
}
