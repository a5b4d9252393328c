import { useOneAtATime } from "@/core/commands/once";
import { tellWrong } from "@/core/notices/notices";
import { Button } from "@/shared/ui/Button";
import { Failed, Loading } from "@/shared/ui/State";
import { type Proposal, useEffectOf, useMakeSo } from "./findings";
import { Lines } from "./Lines";

/** What a change would bring, before it is made. */
export function Effect({ proposal, ofComputer }: { proposal: Proposal; ofComputer?: boolean }) {
  const effect = useEffectOf(proposal);
  const { mutate, isPending } = useMakeSo(ofComputer ? tellDone : undefined);
  const { begin, end } = useOneAtATime();
  if (effect.isError) return <Failed error={effect.error} retry={() => void effect.refetch()} />;
  if (!effect.data) return <Loading what="what it would change" />;
  const { ends, begins, heard, breaks } = effect.data;
  return (
    <section
      aria-label={`${proposal.label}: what it would change`}
      className="mt-2 rounded-md border border-line bg-raised p-2.5"
    >
      <Lines title="Who hears what then" lines={heard} none="Nobody hears anything otherwise." />
      <Lines title={proposal.of === "way" ? "It ends" : "It also ends"} lines={ends} />
      <Lines title="Promises that it would break" lines={breaks} wrong />
      <Lines title="It would bring" lines={begins} wrong />
      <div className="mt-2 flex items-center gap-2">
        <Button
          tone="lamp"
          className="h-7"
          disabled={isPending}
          onClick={() => begin(() => mutate(proposal, { onSettled: end }))}
        >
          Do it
        </Button>
        <span className="text-[11px] text-quiet">
          {ofComputer ? "It changes the computer; its history in Gear takes it back." : "One step; undo takes it back."}
        </span>
      </div>
    </section>
  );
}

/** Loaded when the computer is changed first. */
function tellDone() {
  void import("@/core/commands/computer").then((m) => m.tellGearDone(), tellWrong);
}
