import { useMutation, useQueries } from "@tanstack/react-query";
import { Clock } from "lucide-react";
import { useState } from "react";
import { answer, api, type Hop, type Show, type Source } from "@/core/api/client";
import { useOneAtATime } from "@/core/commands/once";
import { to, useStep } from "@/core/commands/step";
import { tell, tellWrong } from "@/core/notices/notices";
import { WithPicture } from "@/features/picture/parts";
import { decimal } from "@/shared/look/format";
import { Button } from "@/shared/ui/Button";
import { Dialog } from "@/shared/ui/Dialog";

interface Props {
  show: Show;
  source: Source;
}

/** How late a source comes to each mix and why, and what brings it together with another that heard the same. */
export function InTime({ show, source }: Props) {
  const [open, setOpen] = useState(false);
  return (
    <>
      <Button
        className="h-8"
        icon={<Clock size={14} />}
        title="How late it comes to each mix, and bringing it together with another source"
        onClick={() => setOpen(true)}
      >
        In time
      </Button>
      <Dialog
        open={open}
        onOpenChange={setOpen}
        wide
        title={`${source.name}, in time`}
        words="How late it comes to each mix and where that comes from; and how it is brought together with another source, or with a picture."
      >
        <HowLate show={show} source={source} />
        <Together show={show} source={source} />
        <WithPicture show={show} source={source} />
      </Dialog>
    </>
  );
}

function HowLate({ show, source }: Props) {
  const traces = useQueries({
    queries: show.mixes.map((mix) => ({
      queryKey: ["trace", show.id, show.revision, source.id, `mix/${mix.id}`],
      queryFn: () =>
        answer(
          api.GET("/api/shows/{show}/trace", {
            params: { path: { show: show.id }, query: { source: source.id, listener: `mix/${mix.id}` } },
          }),
        ),
      retry: false,
    })),
  });
  return (
    <section aria-label="How late it comes">
      <h3 className="mb-1 text-xs font-semibold text-quiet">How late it comes</h3>
      <table className="w-full text-[13px]">
        <tbody>
          {show.mixes.map((mix, i) => {
            const way = traces[i]?.data?.ways[0];
            const parts = way?.hops.filter((h) => h.delayMs > 0.005) ?? [];
            return (
              <tr key={mix.id} className="border-line border-t align-top">
                <th scope="row" className="max-w-40 truncate py-1 pr-3 text-left font-medium">
                  {mix.name}
                </th>
                <td className="py-1 pr-3 text-right whitespace-nowrap tabular-nums">
                  {traces[i]?.isPending ? "…" : way ? `${decimal(way.delayMs, 2)} ms` : "not heard"}
                </td>
                <td className="py-1 text-quiet">
                  {parts.map((h) => `${wordsOf(h)}, ${decimal(h.delayMs, 2)} ms`).join("; ")}
                </td>
              </tr>
            );
          })}
        </tbody>
      </table>
    </section>
  );
}

function wordsOf({ name, what }: Hop): string {
  return what === "send" ? `it waits for the slowest sound in ${name}` : `${name}: ${what}`;
}

function Together({ show, source }: Props) {
  const others = show.sources.filter((s) => s.id !== source.id);
  const [other, setOther] = useState(others[0]?.id ?? "");
  const once = useOneAtATime();
  const look = useMutation({
    mutationFn: () =>
      answer(
        api.POST("/api/shows/{show}/align", {
          params: { path: { show: show.id } },
          body: { one: source.id, other },
        }),
      ),
    onError: tellWrong,
    onSettled: once.end,
  });
  const set = useStep(async ({ id, syncDelay }: { id: string; syncDelay: number }, seen) => {
    const now = await answer(
      api.PATCH("/api/shows/{show}/sources/{source}", { ...to(seen, { source: id }), body: { syncDelay } }),
    );
    tell("done", "The sync delay is set.", "Clap again to see it; undo takes it back.");
    return now;
  });
  const found = look.data;
  const delayed = show.sources.find((s) => s.id === found?.source);
  return (
    <section aria-label="Together with another source" className="mt-5">
      <h3 className="mb-1 text-xs font-semibold text-quiet">Together with another source</h3>
      {others.length === 0 ? (
        <p className="text-[13px] text-quiet">There is no other source yet.</p>
      ) : (
        <>
          <p className="mb-2 max-w-prose text-[13px] text-quiet">
            Clap once where both hear it, or let the flashing window below beep; then press <b>Compare</b>: what both
            gave in the last 8 seconds is laid over one another, and the offset found to a tenth of a millisecond, or
            not at all.
          </p>
          <div className="flex flex-wrap items-center gap-2">
            <select
              aria-label="The other source"
              value={other}
              onChange={(e) => {
                setOther(e.target.value);
                look.reset();
              }}
              className="h-8 max-w-60 rounded-md border border-line bg-raised px-2"
            >
              {others.map((s) => (
                <option key={s.id} value={s.id}>
                  {s.name}
                </option>
              ))}
            </select>
            <Button disabled={look.isPending} onClick={() => once.begin(() => look.mutate())}>
              Compare
            </Button>
          </div>
          {found && (
            <div role="status" className="mt-3 max-w-prose rounded-md border border-line p-3 text-[13px]">
              <p>{found.words}</p>
              {delayed && found.syncDelay !== null && found.syncDelay !== undefined && (
                <Button
                  className="mt-2"
                  tone="lit"
                  disabled={set.isPending}
                  onClick={() => {
                    set.mutate({ id: delayed.id, syncDelay: found.syncDelay ?? 0 }, { onSuccess: () => look.reset() });
                  }}
                >
                  Set the sync delay of {delayed.name} to {decimal(found.syncDelay, 2)} ms
                </Button>
              )}
            </div>
          )}
        </>
      )}
    </section>
  );
}
