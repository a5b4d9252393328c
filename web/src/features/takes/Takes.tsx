import { Circle, Download } from "lucide-react";
import type { Take, Track } from "@/core/api/client";
import { stop, useRoving } from "@/shared/focus/roving";
import { decimal, duration } from "@/shared/look/format";
import { Button } from "@/shared/ui/Button";
import { Failed, faultOf, Loading, State } from "@/shared/ui/State";
import { TakeJobs } from "./TakeJobs";
import { trackUrl, useDamagedTakes, useRecord, useTakes } from "./takes";

/** What was recorded: each take with its tracks, to download. */
export function Takes() {
  return (
    <div className="flex h-full flex-col overflow-auto p-4">
      <h1 className="mb-3 text-lg font-semibold">Takes</h1>
      <TakeList />
    </div>
  );
}

function TakeList() {
  const takes = useTakes();
  const damaged = useDamagedTakes().data ?? [];
  const { start } = useRecord();
  const fault = faultOf(takes);
  if (fault) return <Failed error={fault} retry={() => void takes.refetch()} />;
  if (!takes.data) return <Loading what="the takes" />;
  if (takes.data.length === 0 && damaged.length === 0) {
    return (
      <State
        title="No take yet"
        words="A take records every mix and every source at once, each in a WAV file of its own, all starting at the same sample."
      >
        <Button tone="lamp" icon={<Circle size={13} fill="currentColor" />} onClick={() => start.mutate()}>
          Record
        </Button>
      </State>
    );
  }
  return (
    <>
      <ul className="flex max-w-5xl flex-col gap-3">
        {takes.data.map((take) => (
          <TakeItem key={take.id} take={take} />
        ))}
      </ul>
      {damaged.length > 0 && (
        <section aria-label="Damaged" className="mt-4 max-w-5xl text-[13px]">
          <h2 className="font-semibold">Folders that are no takes</h2>
          <p className="text-quiet">They lay among the takes when the server started. Nothing was changed in them.</p>
          <ul className="mt-1">
            {damaged.map(({ folder, words }) => (
              <li key={folder} className="border-line border-t py-1.5">
                <span className="font-medium break-words">takes/{folder}</span>{" "}
                <span className="text-quiet">{words}</span>
              </li>
            ))}
          </ul>
        </section>
      )}
    </>
  );
}

const when = new Intl.DateTimeFormat("en-GB", { dateStyle: "medium", timeStyle: "medium" });

function TakeItem({ take }: { take: Take }) {
  const mixes = take.tracks.filter((t) => t.of === "mix");
  const sources = take.tracks.filter((t) => t.of === "source");
  return (
    <li className="rounded-lg border border-line bg-surface p-3">
      <div className="flex flex-wrap items-baseline gap-x-3">
        <h2 className="font-semibold">{take.name}</h2>
        <span className="text-[13px] text-quiet">
          {when.format(new Date(take.startedAt))} ·{" "}
          {take.state === "Recording" ? "being recorded" : duration(take.seconds)}
        </span>
        {take.state === "Recording" && (
          <span className="inline-flex items-center gap-1.5 text-[13px] text-lamp-ink">
            <Circle size={10} fill="currentColor" aria-hidden="true" /> now
          </span>
        )}
        {take.state === "Interrupted" && (
          <span className="text-[13px] text-wrong">Interrupted. {take.endedBecause}</span>
        )}
      </div>
      {take.state !== "Recording" && take.tracks.length > 0 && <TakeJobs take={take} />}
      {take.state !== "Recording" && (
        <div className="mt-2 grid gap-x-8 gap-y-3 md:grid-cols-2">
          <TrackList title="Mixes" take={take} tracks={mixes} />
          <TrackList title="Sources" take={take} tracks={sources} />
        </div>
      )}
    </li>
  );
}

function TrackList({ title, take, tracks }: { title: string; take: Take; tracks: Track[] }) {
  const roving = useRoving();
  return (
    <section aria-label={title}>
      <h3 className="text-xs text-quiet">{title}</h3>
      <ul {...roving}>
        {tracks.map((track) => (
          <li key={track.id} className="flex flex-wrap items-center gap-x-3 border-line border-b py-1 last:border-b-0">
            <span className="min-w-0 grow truncate" title={track.name}>
              {track.name}
            </span>
            <span className="text-xs text-quiet">{track.channels === 2 ? "stereo" : "mono"}</span>
            {track.clipped > 0 && (
              <span className="text-xs text-wrong" title="Samples beyond full scale">
                {track.clipped} clipped
              </span>
            )}
            {track.lostFrames > 0 && (
              <span className="text-xs text-wrong">{duration(track.lostFrames / 48000)} lost</span>
            )}
            <a
              href={trackUrl(take.id, track.id)}
              download
              {...stop}
              aria-label={`Download ${track.name}`}
              className="inline-flex items-center gap-1 rounded px-1.5 py-0.5 text-[13px] hover:bg-raised"
            >
              <Download size={14} aria-hidden="true" /> WAV
            </a>
            {track.gaps.length > 0 && <Gaps gaps={track.gaps} />}
          </li>
        ))}
      </ul>
    </section>
  );
}

// As many as can be read; a device that comes and goes all the time has more.
const mostGaps = 3;

/** When what a track recorded was away, and why. */
function Gaps({ gaps }: { gaps: Track["gaps"] }) {
  return (
    <ul className="w-full text-xs text-wrong">
      {gaps.slice(0, mostGaps).map((gap) => (
        <li key={gap.from}>
          Silent at {duration(gap.from)} for {decimal(gap.seconds)} s: {gap.words}.
        </li>
      ))}
      {gaps.length > mostGaps && <li>And {gaps.length - mostGaps} times more.</li>}
    </ul>
  );
}
