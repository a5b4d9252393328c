import { Ear, EarOff } from "lucide-react";
import { useEffect, useRef, useState } from "react";
import type { AirStream } from "@/core/api/client";
import { useOutputs } from "@/core/audio/outputs";
import { tellWrong } from "@/core/notices/notices";
import { Button } from "@/shared/ui/Button";
import { useHeardBack } from "./air";

/** What listeners of a stream get: heard in this window, and held against the mix. */
export function HearBack({ stream }: { stream: AirStream }) {
  const [hears, setHears] = useState(false);
  const heard = useHeardBack(stream.id, hears);
  const audio = useRef<HTMLAudioElement>(null);
  const output = useOutputs((o) => o.chosen);
  useEffect(() => {
    const element = audio.current;
    if (!hears || !element) return;
    let isOver = false;
    // By its time: what a browser has kept of it is not what listeners get now.
    element.src = `/api/air/${stream.id}/return?now=${Date.now()}`;
    const begin = async () => {
      if (output !== "") await element.setSinkId(output);
      await element.play();
    };
    begin().catch((error: unknown) => {
      if (isOver) return;
      setHears(false);
      tellWrong(error);
    });
    return () => {
      isOver = true;
      element.pause();
      element.removeAttribute("src");
      element.load();
    };
  }, [hears, stream.id, output]);
  return (
    <>
      <Button
        small
        tone={hears ? "lamp" : "quiet"}
        className="h-6"
        aria-pressed={hears}
        aria-label={`Hear what listeners get of ${stream.name}`}
        icon={hears ? <Ear size={13} /> : <EarOff size={13} />}
        onClick={() => setHears(!hears)}
      >
        Hear what listeners get
      </Button>
      {hears && (
        <span role="status" className={heard.data?.isMix === false || heard.error ? "text-wrong" : "text-ink"}>
          {heard.data?.words ??
            (heard.error ? heard.error.message : "Listens for some seconds, to hold it against the mix …")}
        </span>
      )}
      {/* biome-ignore lint/a11y/useMediaCaption: it is live, and nobody has written it down */}
      <audio ref={audio} className="hidden" />
    </>
  );
}
