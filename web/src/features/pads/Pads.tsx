import { ListOrdered } from "lucide-react";
import { useEffect } from "react";
import type { PadSet, Show } from "@/core/api/client";
import { useShow } from "@/core/commands/show";
import { tell } from "@/core/notices/notices";
import { usePlace } from "@/core/place/place";
import { Button } from "@/shared/ui/Button";
import { Loading, State } from "@/shared/ui/State";
import { Board, useLights } from "./Board";
import { CuePanel } from "./CuePanel";
import { filesOf, useAddFiles } from "./files";
import { PadBars } from "./PadBars";
import { dragged } from "./PadButton";
import { PadHead } from "./PadHead";
import { useAddSet, useHand, useMovePad, useReadSet, useSounds } from "./pads";
import { endPreview } from "./preview";
import { useBoardKeys } from "./useBoardKeys";
import { useView } from "./view";

/** Sounds at hand: every pad on its key. */
export function Pads() {
  const show = useShow();
  if (!show.data) return <Loading what="the pads" />;
  return <Hand show={show.data} />;
}

function Hand({ show }: { show: Show }) {
  const { set, silent } = useHand(show);
  useEffect(() => endPreview, []);
  if (!set) return <NoSet show={show} />;
  return <SetAtHand key={set.id} show={show} set={set} silent={silent} />;
}

function NoSet({ show }: { show: Show }) {
  const add = useAddSet();
  const read = useReadSet();
  const cues = useView((v) => v.cues);
  return (
    <div className="flex h-full min-h-0 max-md:flex-col">
      <h1 className="sr-only">Pads</h1>
      <div className="min-h-0 min-w-0 grow">
        <State
          title="No pads yet"
          words="A pad is a sound on a key: a bell, a jingle, the rain. A set holds up to a hundred of them, and a show as many sets as it needs."
        >
          <div className="flex flex-wrap justify-center gap-2">
            <Button tone="lamp" disabled={add.isPending} onClick={() => add.mutate("Pads")}>
              Begin a set
            </Button>
            <label className="inline-flex h-8 cursor-pointer items-center rounded-md border border-line bg-raised px-2.5 text-[13px] hover:border-strong has-focus-visible:outline-2 has-focus-visible:outline-focus">
              Read one from a file
              <input
                type="file"
                accept=".zip,application/zip"
                className="sr-only"
                onChange={(e) => {
                  const file = e.target.files?.[0];
                  e.target.value = "";
                  if (file) read.mutate(file);
                }}
              />
            </label>
            {/* A list of levels, music and marks needs no pad. */}
            <Button
              tone={cues ? "lit" : "plain"}
              aria-pressed={cues}
              icon={<ListOrdered size={14} />}
              onClick={() => useView.setState({ cues: !cues })}
            >
              Cues
            </Button>
          </div>
        </State>
      </div>
      {cues && <CuePanel show={show} />}
    </div>
  );
}

function SetAtHand({ show, set, silent }: { show: Show; set: PadSet; silent: ReadonlyMap<string, string> }) {
  const files = useAddFiles(set);
  const sounds = useSounds(set.pads);
  const move = useMovePad();
  const lights = useLights();
  const cues = useView((v) => v.cues);
  const isOpen = usePlace((p) => p.selection !== null);
  useBoardKeys(show.id, set);
  const lay = (pad: string, key: string) => {
    if (set.pads.some((p) => p.id === pad && p.key === key)) return;
    move.mutate({ pad, set: set.id, index: set.pads.findIndex((p) => p.id === pad), key });
  };
  const drop = async (dropped: DataTransfer, key?: string) => {
    try {
      await files.add(await filesOf(dropped), set.pads.some((p) => p.key === key) ? undefined : key);
    } catch {
      tell("wrong", "These files cannot be read.", "The folder may be gone, or may not be looked into.");
    }
  };
  const waiting = set.pads.filter((p) => p.key === "");
  const props = { show: show.id, sounds, silent };
  return (
    // biome-ignore lint/a11y/noStaticElementInteractions: files can be chosen by the button, too
    <div
      ref={lights}
      className="flex h-full min-h-0 flex-col"
      onDragOver={(e) => e.preventDefault()}
      onDrop={(e) => {
        e.preventDefault();
        const pad = e.dataTransfer.getData(dragged);
        if (pad) lay(pad, "");
        else void drop(e.dataTransfer);
      }}
    >
      <PadHead show={show} set={set} files={files} />
      {set.pads.length === 0 && (
        <p className="border-line border-b px-3 py-2 text-[13px] text-quiet">
          Drop sound files or a whole folder anywhere here, or add them above. They are laid on free keys; a pad is
          heard by those who hear the source <em>Pads</em>.
        </p>
      )}
      <div className="flex min-h-0 grow max-md:flex-col">
        <div className="flex min-h-0 min-w-0 grow flex-col max-md:hidden">
          <Board {...props} set={set} onLay={lay} onFiles={(dropped, key) => void drop(dropped, key)} />
          {waiting.length > 0 && (
            <section aria-label="Without a key" className="max-h-[38%] shrink-0 overflow-auto border-line border-t p-3">
              <h2 className="mb-1.5 text-xs text-quiet">Waiting for a key · {waiting.length}</h2>
              <PadBars
                {...props}
                pads={waiting}
                label="Pads without a key"
                className="grid grid-cols-[repeat(auto-fill,minmax(17rem,1fr))] gap-1.5"
              />
            </section>
          )}
        </div>
        <div className="min-h-0 grow overflow-auto p-2 md:hidden">
          <PadBars {...props} pads={set.pads} label={`Pads of ${set.name}`} className="flex flex-col gap-1.5" />
        </div>
        {/* Beside a pad's numbers there is no room for it on most screens: keys come first. */}
        {cues && (
          <div className={isOpen ? "flex max-2xl:hidden" : "flex min-h-0 max-md:shrink-0"}>
            <CuePanel show={show} />
          </div>
        )}
      </div>
      <p className="shrink-0 border-line border-t px-3 py-1 text-xs text-quiet max-md:hidden">
        A pad’s key plays it while this screen is shown and a window of Kinetra has the focus. With Shift you alone hear
        it. Backspace ends all.
      </p>
    </div>
  );
}
