import { useMutation } from "@tanstack/react-query";
import { useEffect, useRef, useState } from "react";
import { answer, api, type CleanUpAnswer, type Mix, type Show, type Source } from "@/core/api/client";
import { useOneAtATime } from "@/core/commands/once";
import { tellWrong } from "@/core/notices/notices";
import { Button } from "@/shared/ui/Button";
import { OneOf } from "@/shared/ui/OneOf";
import { CleanUpResult } from "./CleanUpResult";
import { forget, recentOf } from "./loops";

const rate = 48_000;
const seconds = 20;
// No mix is called so: an id has no star.
const nowhere = "*";

interface Props {
  show: Show;
  source: Source;
  role: "bed" | "caller";
  onDone: () => void;
}

/** What lies under speech, or calls, is looked at in what it gave just now: nobody has to do anything for it. */
export function LookBack({ show, source, role, onDone }: Props) {
  const others = show.sources.filter((s) => s.id !== source.id);
  const voices = others.filter((s) => s.kind === "Microphone");
  const [speakers, setSpeakers] = useState<ReadonlySet<string>>(new Set(voices.map((s) => s.id)));
  const [like, setLike] = useState<string | undefined>((voices[0] ?? others[0])?.id);
  const hears = (mix: Mix, id: string) => mix.sends.some((s) => s.source === id && s.heard && !s.muted);
  const heardIn = show.mixes.filter((m) => hears(m, source.id));
  // Whoever speaks seldom hears oneself: a mix that hears both.
  const [mix, setMix] = useState(heardIn.find((m) => voices.some((v) => hears(m, v.id)))?.id ?? nowhere);
  const once = useOneAtATime();
  const here = useRef(true);
  useEffect(() => {
    here.current = true;
    return () => {
      here.current = false;
    };
  }, []);
  const look = useMutation({
    mutationFn: async (): Promise<{ found: CleanUpAnswer; loop: string | null }> => {
      const params = { path: { show: show.id } };
      const recent = await recentOf(show.id, source.id);
      const from = Math.max(0, recent.until - Math.floor(Math.min(seconds, recent.seconds) * rate));
      const beside = others.map((s) => s.id).filter((id) => speakers.has(id));
      const as = mix === nowhere ? {} : { mix };
      const found = await answer(
        role === "bed"
          ? api.POST("/api/shows/{show}/clean-up/bed", {
              params,
              body: { source: source.id, speakers: beside, from, ...as },
            })
          : api.POST("/api/shows/{show}/clean-up/caller", { params, body: { source: source.id, like, from } }),
      );
      if (found.steps.length === 0) return { found, loop: null };
      // At once: in half a minute it is not there any more.
      const body = { source: source.id, from, ...(role === "bed" ? { beside, ...as } : {}) };
      const { id } = await answer(api.POST("/api/shows/{show}/loops", { params, body }));
      if (!here.current) forget(show.id, id);
      return { found, loop: id };
    },
    onError: tellWrong,
    onSettled: once.end,
  });
  if (look.data)
    return (
      <CleanUpResult
        show={show.id}
        found={look.data.found}
        loop={look.data.loop}
        onAgain={() => look.reset()}
        onDone={onDone}
      />
    );
  return (
    <>
      {role === "bed" ? (
        <>
          <p className="max-w-prose text-[13px] text-quiet">
            Let it play, and speak over it for ten seconds or more. Then the last {seconds} seconds are looked at: how
            far it lies under the words, and how long the pauses between them are.
          </p>
          <div className="mt-3 flex items-center gap-2 text-[13px]">
            <span>As heard in</span>
            <OneOf
              label="As heard in"
              value={mix}
              options={[
                ...heardIn.map((m) => ({ value: m.id, words: m.name })),
                { value: nowhere, words: "No mix: as each leaves its chain" },
              ]}
              onChange={setMix}
            />
          </div>
          <fieldset className="mt-3">
            <legend className="mb-1 text-xs font-semibold text-quiet">Who speaks over it</legend>
            <div className="flex flex-wrap gap-x-4 gap-y-1">
              {others.map((s) => (
                <label key={s.id} className="flex items-center gap-1.5 text-[13px]">
                  <input
                    type="checkbox"
                    checked={speakers.has(s.id)}
                    onChange={(e) => {
                      const next = new Set(speakers);
                      if (e.target.checked) next.add(s.id);
                      else next.delete(s.id);
                      setSpeakers(next);
                    }}
                  />
                  {s.name}
                </label>
              ))}
            </div>
          </fieldset>
        </>
      ) : (
        <>
          <p className="max-w-prose text-[13px] text-quiet">
            Let them talk for ten seconds or more; nobody has to be silent for it. Then the last {seconds} seconds are
            looked at: how loud they are, how noisy the line is, and what it leaves out.
          </p>
          {like !== undefined && (
            <div className="mt-3 flex items-center gap-2 text-[13px]">
              <span>As loud as</span>
              <OneOf
                label="As loud as"
                value={like}
                options={others.map((s) => ({ value: s.id, words: s.name }))}
                onChange={setLike}
              />
            </div>
          )}
        </>
      )}
      <Button
        tone="lit"
        className="mt-4"
        disabled={look.isPending || (role === "bed" && speakers.size === 0)}
        onClick={() => once.begin(() => look.mutate())}
      >
        {look.isPending ? "Looking at it …" : `Look at the last ${seconds} seconds`}
      </Button>
    </>
  );
}
