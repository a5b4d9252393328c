import { useEffect, useRef, useState } from "react";
import { answer, api } from "@/core/api/client";
import { Button } from "@/shared/ui/Button";
import { LayerDialog } from "@/shared/ui/LayerDialog";
import { type Playing, play } from "./flashing";

/** A window that flashes and beeps at the same moments, in front of a camera and a microphone. */
export function Flashes() {
  return (
    <LayerDialog
      wide
      title="Flashes and beeps"
      words="Put this window where the camera sees it, and play its beeps on speakers that the microphone hears. Record ten seconds or more."
    >
      <Flashing />
    </LayerDialog>
  );
}

function Flashing() {
  const field = useRef<HTMLDivElement>(null);
  const playing = useRef<Playing>(null);
  // Counts starts and stops: what was asked for before the last of them is not wanted any more.
  const wish = useRef(0);
  const [runs, setRuns] = useState(false);
  const [wrong, setWrong] = useState("");
  useEffect(
    () => () => {
      wish.current++;
      playing.current?.stop();
    },
    [],
  );
  const start = async () => {
    const own = ++wish.current;
    setWrong("");
    setRuns(true);
    try {
      const signal = await answer(api.GET("/api/flash-signal"));
      const now = await play(signal, (lit) => field.current?.toggleAttribute("data-lit", lit));
      if (own === wish.current) playing.current = now;
      else now.stop();
    } catch (error) {
      if (own !== wish.current) return;
      setRuns(false);
      setWrong(error instanceof Error ? error.message : String(error));
    }
  };
  const stop = () => {
    wish.current++;
    playing.current?.stop();
    playing.current = null;
    setRuns(false);
  };
  return (
    <div className="text-[13px]">
      <div
        ref={field}
        role="img"
        aria-label={runs ? "It flashes and beeps" : "It is dark"}
        className="grid h-[calc(50*var(--vh))] place-items-center rounded-md bg-black text-[15px] text-neutral-400 data-lit:bg-white data-lit:text-neutral-600"
      >
        {runs ? "Record ten seconds or more." : "Dark until it is started."}
      </div>
      <p className="mt-3 max-w-prose text-quiet">
        It flashes at most two times a second. Leave it closed where somebody who sees it is sensitive to flashes. The
        screen is late by a frame or two itself; the sound of the speakers comes 3 ms later for each metre.
      </p>
      {wrong && (
        <p role="alert" className="mt-2 text-wrong">
          {wrong}
        </p>
      )}
      <div className="mt-3 flex justify-end">
        {runs ? (
          <Button onClick={stop}>Stop</Button>
        ) : (
          <Button tone="lamp" onClick={() => void start()}>
            Start
          </Button>
        )}
      </div>
    </div>
  );
}
