import { Plus } from "lucide-react";
import { useShow } from "@/core/commands/show";
import { Button } from "@/shared/ui/Button";
import { Menu } from "@/shared/ui/Menu";
import { Failed, faultOf } from "@/shared/ui/State";
import { useAddStream, useAir, useStation } from "./air";
import { Start } from "./Start";
import { StreamLine } from "./StreamLine";
import { useRecording } from "./useRecording";

/** Mixes that go to servers which many listen to. */
export function Streams() {
  const show = useShow().data;
  const air = useAir();
  const add = useAddStream();
  const station = useStation().data;
  const recording = useRecording();
  const fault = faultOf(air);
  if (!show) return null;
  const viewers = show.mixes.find((m) => m.purpose === "Viewers") ?? show.mixes[0];
  const practise = () => {
    if (!viewers || !station) return;
    const server = {
      kind: "Put",
      host: "127.0.0.1",
      port: station.port,
      path: "/live",
      user: "source",
      secure: false,
    } as const;
    add.mutate({ mix: viewers.id, server, password: station.password });
  };
  return (
    <section aria-label="Streams" className="max-w-5xl">
      <div className="flex flex-wrap items-center gap-3">
        <h2 className="text-[15px] font-semibold">Streams</h2>
        <div className="grow" />
        <Menu
          title="A stream of"
          trigger={
            <Button className="h-7" icon={<Plus size={14} />} disabled={add.isPending}>
              Add a stream
            </Button>
          }
          items={[
            ...show.mixes.map((m) => ({ words: m.name, onSelect: () => add.mutate({ mix: m.id }) })),
            ...(station?.isOn && viewers
              ? [
                  {
                    words: `${viewers.name}, to the practice station`,
                    hint: "Nobody but this computer hears it: to try everything out",
                    group: "To practise",
                    onSelect: practise,
                  },
                ]
              : []),
          ]}
        />
      </div>
      {show.streams.length === 0 && (
        <p className="mt-1 max-w-3xl text-[13px] text-quiet">
          A stream takes a mix to a station’s server, and whoever listens there hears it some seconds later. There is
          none yet: add one, and say where it goes, as the station’s account page states it.
        </p>
      )}
      {fault && <Failed error={fault} retry={() => void air.refetch()} />}
      <ul className="mt-1" aria-label="Streams of the show">
        {show.streams.map((stream) => (
          <StreamLine key={stream.id} show={show} stream={stream} air={air.data?.find((a) => a.stream === stream.id)} />
        ))}
      </ul>
      {show.streams.length > 0 && air.data && <Start air={air.data} recording={recording} />}
    </section>
  );
}
