import type { Mix, Show, Source } from "../api/client";
import { gainText } from "../look/format";
import { SourceSign } from "../look/sources";
import { sendOf, useChangeSend } from "../show/show";
import { Switch } from "../ui/Switch";
import { ValueField } from "../ui/ValueField";
import { readGain } from "./Inspector";

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
        The switch says whether the listener hears the source at all. A send is −120 to +12 dB, or off.
      </p>
    </div>
  );
}

function Cell({ mix, source }: { mix: Mix; source: Source }) {
  const send = sendOf(mix, source.id);
  const { mutate } = useChangeSend();
  return (
    <div className="flex items-center gap-2">
      <Switch
        bare
        label={`${mix.name} hears ${source.name}`}
        on={send.heard}
        onChange={(heard) => mutate({ mix: mix.id, source: source.id, change: { heard } })}
      />
      <ValueField
        bare
        label={`${source.name} in ${mix.name}, dB`}
        value={send.gain}
        show={gainText}
        read={readGain}
        allowed="−120 to +12 dB, or off"
        onChange={(gain) => mutate({ mix: mix.id, source: source.id, change: { gain } })}
        className={`w-24 ${send.heard ? "" : "text-quiet"}`}
      />
      {send.muted && <span className="text-xs text-quiet">muted</span>}
    </div>
  );
}
