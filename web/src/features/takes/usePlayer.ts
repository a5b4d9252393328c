import { useQueryClient } from "@tanstack/react-query";
import { useEffect, useMemo, useRef, useState } from "react";
import type { Take } from "@/core/api/client";
import { OutputGraph } from "@/core/audio/graph";
import { useOutputs } from "@/core/audio/outputs";
import { tellWrong } from "@/core/notices/notices";
import { TakePlayer } from "./player";
import { isThere } from "./takes";

/** The take was deleted while it played. */
class Gone extends Error {}

/** Plays a take for this window alone, where it listens: nobody else hears any of it. */
export function usePlayer(take: Take) {
  const [playing, setPlaying] = useState(false);
  const player = useRef<TakePlayer | null>(null);
  const making = useRef<Promise<TakePlayer> | null>(null);
  const rests = useRef(take.from);
  const levels = useRef(new Map<string, number>());
  const kept = useRef<[from: number, to: number]>([take.from, take.to ?? take.seconds]);
  const output = useOutputs((o) => o.chosen);
  const queries = useQueryClient();

  // Another output has another clock.
  // biome-ignore lint/correctness/useExhaustiveDependencies: it ends with the output it was made for
  useEffect(
    () => () => {
      player.current?.pause();
      player.current = null;
      making.current = null;
      setPlaying(false);
    },
    [take.id, output],
  );

  return useMemo(() => {
    const ready = () => {
      making.current ??= OutputGraph.of(output).then((graph) => {
        const made = new TakePlayer(
          graph.context,
          take.tracks.map(({ id, channels }) => ({ id, channels })),
          take.seconds,
          async (track, from, frames, signal) => {
            const answer = await fetch(`/api/takes/${take.id}/tracks/${track}/sound?from=${from}&frames=${frames}`, {
              signal,
            });
            // Its sound may be gone before the word that all of it is.
            if (answer.status === 404 && !(await isThere(queries, take.id))) throw new Gone();
            if (!answer.ok) throw new Error("The sound of a track cannot be read: its file is gone, or damaged.");
            return new Float32Array(await answer.arrayBuffer());
          },
          (error) => {
            // Whoever shows it tells that, as of one that still played.
            if (error instanceof Gone) return;
            setPlaying(false);
            if (error) tellWrong(error);
          },
        );
        for (const [track, factor] of levels.current) made.level(track, factor);
        made.keep(...kept.current);
        made.seek(rests.current);
        graph.wake();
        player.current = made;
        return made;
      });
      return making.current;
    };
    return {
      playing,
      position: () => player.current?.position ?? rests.current,
      level: (track: string, factor: number) => {
        levels.current.set(track, factor);
        player.current?.level(track, factor);
      },
      keep: (from: number, to: number) => {
        kept.current = [from, to];
        player.current?.keep(from, to);
      },
      seek: (to: number) => {
        rests.current = Math.min(take.seconds, Math.max(0, to));
        player.current?.seek(rests.current);
      },
      toggle: () => {
        const now = player.current?.playing ?? false;
        setPlaying(!now);
        if (now) player.current?.pause();
        else
          ready().then(
            (made) => made.play(),
            (error: unknown) => {
              making.current = null;
              setPlaying(false);
              tellWrong(error);
            },
          );
      },
    };
  }, [take.id, take.seconds, take.tracks, output, playing, queries]);
}
