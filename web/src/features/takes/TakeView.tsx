import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { ArrowLeftToLine, ArrowRightToLine, Pause, Play, Volume2, VolumeX, ZoomIn, ZoomOut } from "lucide-react";
import { useEffect, useRef, useState } from "react";
import { answer, api, type Take } from "@/core/api/client";
import { useShow } from "@/core/commands/show";
import { decimal, duration } from "@/shared/look/format";
import { Button } from "@/shared/ui/Button";
import { Choice } from "@/shared/ui/Choice";
import { ValueField } from "@/shared/ui/ValueField";
import { aloneOf, blendOf, type Heard, heardOf } from "./blend";
import { Outline } from "./Outline";
import { useChangeTake, useSayIfDeleted } from "./takeChanges";
import { heard, markFrom, type Sight, ticks, whole, withIn, zoomed } from "./timeLine";
import { usePlayer } from "./usePlayer";

/** How many values an outline has across the screen. */
const width = 1_200;

/** By how much an arrow goes on, seconds; with Shift. */
const [stepSeconds, leapSeconds] = [1, 10];

const mostTicks = 9;

/** Behind this share of the line its words would stand out of it. */
const lastTick = 0.95;

/** All tracks of a take on one time line: played together, each alone or silent, with marks. */
export function TakeView({ take, playsAtOnce }: { take: Take; playsAtOnce?: boolean }) {
  const player = usePlayer(take);
  // biome-ignore lint/correctness/useExhaustiveDependencies: once, when it is shown
  useEffect(() => {
    if (playsAtOnce) player.toggle();
  }, []);
  const { mutate: change } = useChangeTake(take.id);
  const [from, to] = [take.from, take.to ?? take.seconds];
  const isTrimmed = from > 0 || take.to !== null;
  useSayIfDeleted(take, player.playing);
  const { keep } = player;
  useEffect(() => keep(from, to), [keep, from, to]);
  const [sight, setSight] = useState<Sight>(() => whole(take.seconds));
  const show = useShow().data;
  const blend = blendOf(take, show);
  const [chosen, setAlone] = useState<ReadonlySet<string> | null>(null);
  // At first the blend alone: with the tracks that it is made of beside it, everything would be heard twice.
  const alone = chosen ?? aloneOf(take, blend, "blend");
  const heardNow = heardOf(take, blend, alone);
  const [silent, setSilent] = useState<ReadonlySet<string>>(new Set());
  const [levels, setLevels] = useState<Readonly<Record<string, number>>>({});
  const outlines = useQuery({
    queryKey: ["takes", "outlines", take.id, sight, take.verdict?.sentence],
    queryFn: () =>
      answer(
        api.GET("/api/takes/{take}/outlines", {
          params: { path: { take: take.id }, query: { from: sight.from, to: sight.to, width } },
        }),
      ),
    placeholderData: keepPreviousData,
    gcTime: 60_000,
  }).data;
  const audible = heard(take.tracks, alone, silent);

  const { level } = player;
  useEffect(() => {
    for (const { id } of take.tracks) level(id, audible.has(id) ? 10 ** ((levels[id] ?? 0) / 20) : 0);
  });

  // Where it is, drawn with each picture of the screen.
  const line = useRef<HTMLDivElement>(null);
  const slider = useRef<HTMLDivElement>(null);
  const { position } = player;
  useEffect(() => {
    let frame = 0;
    const draw = () => {
      const at = position();
      const share = (at - sight.from) / (sight.to - sight.from);
      if (line.current) {
        line.current.style.left = `${share * 100}%`;
        line.current.hidden = share < 0 || share > 1;
      }
      slider.current?.setAttribute("aria-valuenow", at.toFixed(2));
      slider.current?.setAttribute("aria-valuetext", `${duration(at)} of ${duration(take.seconds)}`);
      if (player.playing && (share < 0 || share > 1)) setSight((s) => withIn(s, at, take.seconds));
      frame = requestAnimationFrame(draw);
    };
    frame = requestAnimationFrame(draw);
    return () => cancelAnimationFrame(frame);
  }, [position, sight, take.seconds, player.playing]);

  const go = (to: number | undefined) => {
    if (to === undefined) return;
    player.seek(to);
    setSight((s) => withIn(s, Math.min(take.seconds, Math.max(0, to)), take.seconds));
  };
  const zoom = (factor: number, about = position()) => setSight((s) => zoomed(s, factor, about, take.seconds));
  // As whole samples: what is refused says why.
  const beginHere = () => change({ from: position() });
  const endHere = () => change({ to: position() });
  const keys: Record<string, (leap: boolean) => void> = {
    " ": player.toggle,
    ArrowLeft: (leap) => go(position() - (leap ? leapSeconds : stepSeconds)),
    ArrowRight: (leap) => go(position() + (leap ? leapSeconds : stepSeconds)),
    Home: () => go(0),
    End: () => go(take.seconds),
    PageUp: () => go(markFrom(take.marks, position(), -1)),
    PageDown: () => go(markFrom(take.marks, position(), 1)),
    b: () => beginHere(),
    e: () => endHere(),
    "+": () => zoom(2),
    "-": () => zoom(0.5),
  };
  const at = (time: number) => `${((time - sight.from) / (sight.to - sight.from)) * 100}%`;
  const turned = (set: ReadonlySet<string>, id: string) => {
    const next = new Set(set);
    if (!next.delete(id)) next.add(id);
    return next;
  };

  return (
    <section aria-label={`${take.name} on its time line`} className="mt-2">
      <div className="flex flex-wrap items-center gap-2">
        <Button
          className="h-7"
          tone={player.playing ? "lamp" : "plain"}
          icon={player.playing ? <Pause size={14} /> : <Play size={14} />}
          onClick={player.toggle}
        >
          {player.playing ? "Pause" : "Play here"}
        </Button>
        <Button square small className="h-7" aria-label="Nearer" icon={<ZoomIn size={14} />} onClick={() => zoom(2)} />
        <Button
          square
          small
          className="h-7"
          aria-label="Farther"
          icon={<ZoomOut size={14} />}
          onClick={() => zoom(0.5)}
        />
        <Button small className="h-7" icon={<ArrowRightToLine size={14} />} onClick={beginHere}>
          Begins here
        </Button>
        <Button small className="h-7" icon={<ArrowLeftToLine size={14} />} onClick={endHere}>
          Ends here
        </Button>
        {isTrimmed && (
          <Button small className="h-7" onClick={() => change({ from: 0, to: take.seconds })}>
            Keep all of it
          </Button>
        )}
        {blend && take.tracks.some((t) => t.of !== "mix") && (
          <Choice
            label="What is heard"
            value={heardNow ?? ""}
            options={[
              { value: "blend", words: blend.name },
              { value: "apart", words: "Tracks apart" },
              { value: "all", words: "Everything" },
            ]}
            onChange={(to) => to !== "" && setAlone(aloneOf(take, blend, to as Heard))}
          />
        )}
        <span className="text-xs text-quiet">
          Space plays, arrows go 1 s (Shift: 10 s), Page Up and Page Down to marks, + and − zoom, B and E set where it
          begins and ends; its files stay whole. Only this window hears it.
        </span>
      </div>
      <div className="mt-2 grid grid-cols-[15rem_minmax(0,1fr)] gap-x-3">
        <div />
        <div
          ref={slider}
          role="slider"
          tabIndex={0}
          aria-label="Place in the take"
          aria-valuemin={0}
          aria-valuemax={take.seconds}
          aria-valuenow={0}
          className="relative h-8 cursor-pointer rounded-sm border-line border-b"
          onKeyDown={(e) => {
            const act = e.ctrlKey || e.metaKey || e.altKey ? undefined : keys[e.key];
            if (!act) return;
            e.preventDefault();
            e.stopPropagation();
            act(e.shiftKey);
          }}
          onPointerDown={(e) => {
            const box = e.currentTarget.getBoundingClientRect();
            go(sight.from + ((e.clientX - box.left) / box.width) * (sight.to - sight.from));
          }}
        >
          {ticks(sight, mostTicks)
            .filter((t) => (t - sight.from) / (sight.to - sight.from) < lastTick)
            .map((t) => (
              <span
                key={t}
                className="absolute bottom-0 whitespace-nowrap text-[11px] text-quiet tabular-nums"
                style={{ left: at(t) }}
              >
                {sight.to - sight.from < 5 ? `${t.toFixed(1)} s` : duration(t)}
              </span>
            ))}
          {take.marks
            .filter((m) => m.at >= sight.from && m.at <= sight.to)
            .map((m, i) => (
              <span
                // biome-ignore lint/suspicious/noArrayIndexKey: two marks can be the same
                key={i}
                title={`${duration(m.at)} ${m.words || "mark"}`}
                className={`absolute top-0 h-3 w-2 -translate-x-1/2 rounded-b-sm ${m.byProgram ? "bg-strong" : "bg-lamp"}`}
                style={{ left: at(m.at) }}
              />
            ))}
        </div>
        {take.tracks.map((track, i) => {
          const isSilent = !audible.has(track.id);
          return (
            <div key={track.id} className="contents">
              <div className="flex min-w-0 items-center gap-1.5 border-line border-b py-1">
                <span className={`min-w-0 grow truncate ${isSilent ? "text-quiet" : ""}`} title={track.name}>
                  {track.name}
                </span>
                <Button
                  small
                  className="h-6"
                  tone={alone.has(track.id) ? "lamp" : "quiet"}
                  aria-pressed={alone.has(track.id)}
                  aria-label={`Hear ${track.name} alone`}
                  onClick={() =>
                    // Beside what was chosen by hand; what stood there before by itself goes.
                    setAlone(
                      heardNow !== null && !(alone.size === 1 && alone.has(track.id))
                        ? new Set([track.id])
                        : turned(alone, track.id),
                    )
                  }
                >
                  Alone
                </Button>
                <Button
                  square
                  small
                  className="h-6"
                  tone="quiet"
                  aria-pressed={silent.has(track.id)}
                  aria-label={`Do not hear ${track.name}`}
                  icon={silent.has(track.id) ? <VolumeX size={14} /> : <Volume2 size={14} />}
                  onClick={() => setSilent(turned(silent, track.id))}
                />
                <ValueField
                  bare
                  label={`How loud ${track.name} is listened to`}
                  className="h-6 w-17 text-right"
                  value={levels[track.id] ?? 0}
                  show={(v) => `${decimal(v)} dB`}
                  read={(text) => {
                    const value = Number(text.replace("−", "-").replace(/\s*dB$/i, ""));
                    return text.trim() !== "" && value >= -60 && value <= 12 ? value : null;
                  }}
                  allowed="−60 to +12 dB"
                  step={(v, by) => Math.min(12, Math.max(-60, v + by * 0.5))}
                  onChange={(v) => setLevels({ ...levels, [track.id]: v })}
                />
              </div>
              <div className="relative border-line border-b py-0.5">
                <Outline peaks={outlines?.tracks[i]?.peaks ?? []} silent={isSilent} />
                {i === 0 && isTrimmed && (
                  <Cut sight={sight} from={from} to={to} seconds={take.seconds} rows={take.tracks.length} />
                )}
                {i === 0 && (
                  <div
                    ref={line}
                    aria-hidden="true"
                    className="pointer-events-none absolute top-0 z-10 w-px bg-lamp"
                    style={{ height: `calc(${take.tracks.length} * 100%)` }}
                  />
                )}
              </div>
            </div>
          );
        })}
      </div>
    </section>
  );
}

/** What is left out at both ends, veiled over all tracks. */
function Cut({
  sight,
  from,
  to,
  seconds,
  rows,
}: {
  sight: Sight;
  from: number;
  to: number;
  seconds: number;
  rows: number;
}) {
  const place = (time: number) => Math.min(1, Math.max(0, (time - sight.from) / (sight.to - sight.from))) * 100;
  return [
    [0, from],
    [to, seconds],
  ].map(([begin = 0, end = 0]) => (
    <div
      key={begin}
      aria-hidden="true"
      className="pointer-events-none absolute top-0 z-[5] bg-surface/80"
      style={{
        left: `${place(begin)}%`,
        width: `${place(end) - place(begin)}%`,
        height: `calc(${rows} * 100%)`,
      }}
    />
  ));
}
