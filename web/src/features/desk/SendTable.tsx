import type { Mix, Show, Source } from "@/core/api/client";
import { sendOf } from "@/core/commands/show";
import { gainText } from "@/shared/look/format";
import { readGain } from "@/shared/look/gains";
import { SourceSign } from "@/shared/look/sources";
import { Button } from "@/shared/ui/Button";
import { ValueField } from "@/shared/ui/ValueField";
import { useChangeSend } from "./changes";

/** All sends as numbers: for those who prefer them, and for screen readers. */
export function SendTable({ show }: { show: Show }) {
  return (
    <div className="h-full overflow-auto p-3">
      <table className="w-full border-collapse text-left">
        <caption className="sr-only">The send of each source in each mix, in dB, and whether it is heard there</caption>
        <thead>
          <tr className="border-line border-b text-xs text-quiet">
            <th scope="col" className="py-1.5 font-medium">
              Source
            </th>
            {show.mixes.map((mix) => (
              <th key={mix.id} scope="col" className="max-w-40 truncate px-3 py-1.5 font-medium">
                {mix.name}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {show.sources.map((source) => (
            <tr key={source.id} className="border-line border-b">
              <th scope="row" className="py-1 font-medium">
                <span className="flex items-center gap-2">
                  <SourceSign source={source} />
                  <span className="max-w-48 truncate">{source.name}</span>
                </span>
              </th>
              {show.mixes.map((mix) => (
                <td key={mix.id} className="px-3 py-1">
                  <Cell mix={mix} source={source} />
                </td>
              ))}
            </tr>
          ))}
        </tbody>
      </table>
      <p className="mt-3 text-xs text-quiet">
        A send is −120 to +12 dB, or off. What a listener does not hear waits in the dock and keeps its send.
      </p>
    </div>
  );
}

function Cell({ mix, source }: { mix: Mix; source: Source }) {
  const send = sendOf(mix, source.id);
  const { mutate, editing } = useChangeSend();
  const hear = (heard: boolean) => mutate({ mix: mix.id, source: source.id, change: { heard } });
  if (!send.heard) {
    return (
      <Button
        tone="quiet"
        className="-ml-2.5"
        aria-label={`not heard: let ${mix.name} hear ${source.name}, at ${gainText(send.gain)}`}
        onClick={() => hear(true)}
      >
        not heard
      </Button>
    );
  }
  return (
    <div className="group flex items-center gap-1">
      <ValueField
        bare
        label={`${source.name} in ${mix.name}, dB`}
        value={send.gain}
        show={gainText}
        read={readGain}
        allowed="−120 to +12 dB, or off"
        onEditing={editing}
        onChange={(gain) => mutate({ mix: mix.id, source: source.id, change: { gain } })}
        className="w-24"
      />
      <Button
        tone="quiet"
        className="opacity-0 group-hover:opacity-100 focus-visible:opacity-100"
        aria-label={`Put ${source.name} in the dock of ${mix.name}`}
        onClick={() => hear(false)}
      >
        dock
      </Button>
      {send.muted && <span className="text-xs text-quiet">muted</span>}
    </div>
  );
}
