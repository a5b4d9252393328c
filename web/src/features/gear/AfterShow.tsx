import { Undo2 } from "lucide-react";
import type { Gear, Show } from "@/core/api/client";
import { Button } from "@/shared/ui/Button";
import { Menu } from "@/shared/ui/Menu";
import { useChangeWishes, usePutBack } from "./gear";

/** Puts the computer back as it was before the show, now or whenever the show is left; and says whether the show's wishes are asked for. */
export function AfterShow({ gear, show }: { gear: Gear; show: Show }) {
  const putBack = usePutBack();
  const change = useChangeWishes();
  const { always, putBack: byItself } = show.wishes;
  return (
    <Menu
      trigger={<Button icon={<Undo2 size={15} />}>After the show</Button>}
      items={[
        {
          words: "Put back what stood before",
          hint: gear.isAsBefore
            ? "Defaults and programs are as they were before this show was opened."
            : "Defaults and what programs are set to, as before this show was opened.",
          disabled: gear.isAsBefore || putBack.isPending,
          onSelect: () => putBack.mutate(),
        },
        {
          words: "Whenever this show is left, by itself",
          group: "Without asking",
          chosen: byItself,
          onSelect: () => change.mutate({ putBack: !byItself }),
        },
        {
          words: "What this show wants, as soon as it is not so",
          group: "Without asking",
          chosen: always,
          onSelect: () => change.mutate({ always: !always }),
        },
      ]}
    />
  );
}
