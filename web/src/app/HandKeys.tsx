import { Suspense, useEffect } from "react";
import { useShow } from "@/core/commands/show";
import { useRedo, useUndo } from "@/core/commands/step";
import { keysOf, useKeySettings } from "@/core/hands/bindings";
import { chordWords, isSingle } from "@/core/hands/chords";
import { useKeyWords } from "@/core/hands/chosen";
import { pressKey, releaseKey, releaseKeys } from "@/core/hands/keyboard";
import { actsFor, handle } from "@/core/hands/perform";
import { closeInspector, goTo, openLayer, placeNow, type Screen } from "@/core/place/place";
import {
  Controllers,
  keepAhead,
  SmallWindow,
  toggleSmallWindow,
  typeAhead,
  useControllers,
  useSmallWindow,
} from "@/features/hands";
import { listen, toggleListen } from "@/features/listen";
import { PadKeys } from "@/features/pads";
import { scaleBy, showAt } from "@/shared/look/scale";
import { earlyKeys } from "./early";

/** What keys do everywhere, and who does what of it in this window. Nothing is drawn. */
export function HandKeys() {
  const show = useShow().data;
  const { mutate: undo } = useUndo();
  const { mutate: redo } = useRedo();
  const settings = useKeySettings();
  const small = useSmallWindow((s) => s.window !== null);
  const controllers = useControllers((s) => s.on);
  const mixes = show?.mixes;
  const id = show?.id ?? null;
  useEffect(() => actsFor(id), [id]);
  useEffect(() => {
    const hints = ["hush", "record"].map((address) => {
      const chord = keysOf(address, settings).find((k) => settings.single || !isSingle(k));
      return [address, chord === undefined ? "" : ` (key ${chordWords(chord)})`] as const;
    });
    useKeyWords.setState(Object.fromEntries(hints));
  }, [settings]);
  useEffect(() => {
    const ends = [
      handle("undo", () => undo()),
      handle("redo", () => redo()),
      handle("go/{screen}", ([screen]) => goTo(screen as Screen)),
      handle("listen/off", () => void listen({})),
      handle("listen/{mix}", ([mix]) => toggleListen({ mix })),
      handle("listen/source/{source}", ([source]) => toggleListen({ source })),
      handle("listen/place/{place}", ([place]) => {
        const mix = mixes?.[Number(place) - 1];
        if (mix) toggleListen({ mix: mix.id });
      }),
      handle("palette", () => {
        openLayer("palette");
        typeAhead();
      }),
      handle("keys", () => openLayer("keys")),
      handle("hands", () => openLayer("hands")),
      handle("close", () => closeInspector()),
      handle("small", () => toggleSmallWindow()),
      handle("scale/larger", () => scaleBy(1)),
      handle("scale/smaller", () => scaleBy(-1)),
      handle("scale/normal", () => showAt(100)),
    ];
    return () => {
      for (const end of ends) end();
    };
  }, [mixes, undo, redo]);
  useEffect(() => {
    const up = (e: KeyboardEvent) => releaseKey(e.code);
    window.addEventListener("keydown", pressKey);
    window.addEventListener("keyup", up);
    window.addEventListener("blur", releaseKeys);
    // What was typed behind the key of the palette is for its field.
    for (const early of earlyKeys()) {
      if (placeNow().layer === "palette") keepAhead(early);
      else pressKey(early);
    }
    return () => {
      window.removeEventListener("keydown", pressKey);
      window.removeEventListener("keyup", up);
      window.removeEventListener("blur", releaseKeys);
      releaseKeys();
    };
  }, []);
  return (
    show && (
      <Suspense>
        <PadKeys show={show} />
        {small && <SmallWindow show={show} />}
        {controllers && <Controllers show={show} />}
      </Suspense>
    )
  );
}
