import { useState } from "react";
import type { Promises, Show } from "@/core/api/client";
import { useOneAtATime } from "@/core/commands/once";
import { Button } from "@/shared/ui/Button";
import { LayerDialog } from "@/shared/ui/LayerDialog";
import { Failed, Loading } from "@/shared/ui/State";
import { Breaks } from "./Breaks";
import { PromiseMaker } from "./PromiseMaker";
import { PromiseRow } from "./PromiseRow";
import { countWords, useAddPromises, usePromises } from "./promises";

const worstFirst = { Broken: 0, NotKnown: 1, Kept: 2 } as const;

/** What is said about who hears what, how each stands, what else could be said, and when any broke. */
export function PromisesDialog({ show }: { show: Show }) {
  const promises = usePromises(true);
  return (
    <LayerDialog
      wide
      title="Promises"
      words="Who hears what, said once and watched from then on: in the routing with every change, and in the sound that really arrives."
    >
      {promises.isError ? (
        <Failed error={promises.error} retry={() => void promises.refetch()} />
      ) : !promises.data ? (
        <Loading what="the promises" />
      ) : (
        <Said promises={promises.data} show={show} />
      )}
    </LayerDialog>
  );
}

function Said({ promises, show }: { promises: Promises; show: Show }) {
  const said = [...promises.promises].sort((a, b) => worstFirst[a.state] - worstFirst[b.state]);
  return (
    <div className="text-[13px]">
      {said.length === 0 ? (
        <p className="text-quiet">
          Nothing is promised yet. Say a first one below, or take what is offered for this show.
        </p>
      ) : (
        <>
          <p className="mb-1 font-semibold">{countWords(said)}</p>
          <ul aria-label="Promises">
            {said.map((p) => (
              <PromiseRow key={p.promise.id} watched={p} promises={promises} show={show} />
            ))}
          </ul>
        </>
      )}
      <Another promises={promises} show={show} />
      <Offered promises={promises} />
      <Breaks />
    </div>
  );
}

function Another({ promises, show }: { promises: Promises; show: Show }) {
  const [open, setOpen] = useState(promises.promises.length === 0);
  const add = useAddPromises();
  const { begin, end } = useOneAtATime();
  return (
    <section aria-label="Say another" className="mt-3 border-line border-t pt-3">
      {open ? (
        <PromiseMaker
          promises={promises}
          show={show}
          words="Promise it"
          busy={add.isPending}
          onDone={(promise) => begin(() => add.mutate([promise], { onSuccess: () => setOpen(false), onSettled: end }))}
          onCancel={promises.promises.length === 0 ? undefined : () => setOpen(false)}
        />
      ) : (
        <Button onClick={() => setOpen(true)}>Say another …</Button>
      )}
    </section>
  );
}

function Offered({ promises }: { promises: Promises }) {
  const add = useAddPromises();
  const { begin, end } = useOneAtATime();
  const { offers } = promises;
  if (offers.length === 0) return null;
  const take = (some: typeof offers) =>
    begin(() =>
      add.mutate(
        some.map((o) => o.promise),
        { onSettled: end },
      ),
    );
  return (
    <section aria-label="Offered" className="mt-3 border-line border-t pt-3">
      <div className="mb-1 flex flex-wrap items-center gap-3">
        <h3 className="font-semibold text-quiet">This show could promise too</h3>
        {offers.length > 1 && (
          <Button className="h-7" disabled={add.isPending} onClick={() => take(offers)}>
            Promise all {offers.length}
          </Button>
        )}
      </div>
      <ul>
        {offers.map((o) => (
          <li key={o.sentence} className="flex items-center gap-2 py-0.5">
            <span className="min-w-0 grow">{o.sentence}.</span>
            <Button
              tone="quiet"
              className="h-7 shrink-0"
              aria-label={`Promise it: ${o.sentence}`}
              disabled={add.isPending}
              onClick={() => take([o])}
            >
              Promise it
            </Button>
          </li>
        ))}
      </ul>
    </section>
  );
}
