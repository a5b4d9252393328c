import { ListPlus, Plus } from "lucide-react";
import type { ReactNode } from "react";
import { useShow } from "@/core/commands/show";
import { useGear } from "@/features/gear";
import { Button } from "@/shared/ui/Button";
import { Menu } from "@/shared/ui/Menu";
import { Word } from "@/shared/ui/Word";
import { PlannedLine } from "./PlannedLine";
import { takeable } from "./points";
import { SecondFolder } from "./SecondFolder";
import { forms, formWords, useAddTrack, usePlan, useSetRecording, useTakePlan } from "./tracks";

/** What the next take will have: planned tracks, each a sentence, or everything. */
export function PlanSection({ children }: { children: ReactNode }) {
  const show = useShow().data;
  const gear = useGear().data;
  return show ? (
    <Plan show={show} gear={gear}>
      {children}
    </Plan>
  ) : null;
}

function Plan({
  show,
  gear,
  children,
}: {
  children: ReactNode;
  show: NonNullable<ReturnType<typeof useShow>["data"]>;
  gear: ReturnType<typeof useGear>["data"];
}) {
  const plan = useTakePlan(show).data;
  const offered = usePlan();
  const add = useAddTrack();
  const { mutate: setRecording } = useSetRecording();
  const all = takeable(show, gear);
  const isPlanned = show.tracks.length > 0;
  return (
    <section aria-label="The next take" className="max-w-5xl">
      <div className="flex flex-wrap items-center gap-x-3 gap-y-1.5">
        <h2 className="text-[15px] font-semibold">The next take</h2>
        <p role="status" className="min-w-0 text-[13px]">
          {plan?.sentence} <span className="text-quiet">{plan?.room}</span>
        </p>
        <div className="grow" />
        {children}
        <Menu
          title="A track of its own for"
          trigger={
            <Button className="h-7" icon={<Plus size={14} />}>
              Add a track
            </Button>
          }
          items={all.map((t) => ({
            words: t.words,
            group: t.group,
            onSelect: () => add.mutate(t.point),
          }))}
        />
        {isPlanned ? (
          <Menu
            trigger={
              <Button className="h-7" tone="quiet">
                Plan anew
              </Button>
            }
            items={[
              {
                words: "What is offered",
                hint: "One blend, and every source apart",
                onSelect: () => offered.mutate("offered"),
              },
              {
                words: "Nothing: record everything",
                hint: "Every mix and every source",
                onSelect: () => offered.mutate("none"),
              },
            ]}
          />
        ) : (
          <Button
            className="h-7"
            tone="lamp"
            icon={<ListPlus size={14} />}
            disabled={offered.isPending}
            onClick={() => offered.mutate("offered")}
          >
            Plan tracks
          </Button>
        )}
      </div>
      <p className="mt-1 text-[13px] text-quiet">
        {isPlanned
          ? "Tracks take their sound by themselves, whatever lanes do. "
          : "Nothing is planned: a take has every mix and every source. "}
        Files are{" "}
        <Word
          label="Files are"
          words={formWords(show.recording.form)}
          items={forms.map(({ form, words, hint }) => ({
            words,
            hint,
            chosen: form === show.recording.form,
            onSelect: () => setRecording({ form, before: show.recording.before }),
          }))}
        />
        , where a track does not say otherwise. A take begins{" "}
        <Word
          label="A take begins"
          words={show.recording.before === 0 ? "at the press" : `${show.recording.before} s before the press`}
          items={[0, 5, 9].map((before) => ({
            words: before === 0 ? "at the press" : `${before} s before the press`,
            hint: before === 0 ? "Nothing is kept before" : "So much of every track is kept in memory until then",
            chosen: before === show.recording.before,
            onSelect: () => setRecording({ form: show.recording.form ?? "Wav24", before }),
          }))}
        />
        . <SecondFolder />
      </p>
      {isPlanned && (
        <ul className="mt-2" aria-label="Planned tracks">
          {show.tracks.map((track, index) => (
            <PlannedLine
              key={track.id}
              show={show}
              track={track}
              index={index}
              all={all}
              file={plan?.files.find((f) => f.track === track.id)}
            />
          ))}
        </ul>
      )}
    </section>
  );
}
