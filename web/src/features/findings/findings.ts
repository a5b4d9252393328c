import { keepPreviousData, type QueryClient, useQuery } from "@tanstack/react-query";
import { answer, api, type Finding } from "@/core/api/client";
import { useShow } from "@/core/commands/show";
import { to, useStep } from "@/core/commands/step";
import type { Selection } from "@/core/place/place";
import { refetchOn } from "@/core/realtime/hub";

/** What all that is worked out of where sound goes is known by. */
export const findingsKey = ["findings"] as const;

/** Keeps in step with the server what is found: the computer is part of it. */
export function followFindings(queries: QueryClient) {
  refetchOn(queries, "GearChanged", findingsKey);
}

const none: Finding[] = [];

/** What is found in the live show, the most harmful first; asked anew for every state of it. */
export function useFindings() {
  const show = useShow().data;
  return useQuery({
    queryKey: [...findingsKey, show?.id, show?.revision],
    queryFn: () => answer(api.GET("/api/shows/{show}/findings", { params: { path: { show: show?.id ?? "" } } })),
    enabled: show !== undefined,
    placeholderData: keepPreviousData,
  });
}

/** What is not good to know alone, but does harm, and nobody has accepted; wishes have a place of their own in the bar above. */
export function doesHarm(finding: Finding): boolean {
  return finding.harm !== "Slight" && finding.kind !== "NotAsWished" && !finding.isAccepted;
}

/** What does harm and concerns all of these points: a mix, a source, a program, a cable. */
export function useFindingsAt(...points: string[]): Finding[] {
  const found = useFindings().data?.findings;
  return found?.filter((f) => doesHarm(f) && points.every((p) => f.places.some((q) => isAt(q, p)))) ?? none;
}

/** A point lies at another where it is it or inside of it: a program's port at the program. */
function isAt(point: string, place: string): boolean {
  return point === place || point.startsWith(`${place}/`);
}

/** A change that is told before it is made: of a finding, or of a stretch of a way. */
export type Proposal =
  | { of: "finding"; key: string; label: string }
  | { of: "way"; source: string; listener: string; label: string }
  | { of: "promise"; promise: string; label: string };

/** What a change would bring, for the state of the show that is seen. */
export function useEffectOf(proposal: Proposal) {
  const show = useShow().data;
  const path = { show: show?.id ?? "" };
  return useQuery({
    queryKey: [...findingsKey, show?.id, show?.revision, proposal],
    queryFn: () =>
      answer(
        proposal.of === "finding"
          ? api.GET("/api/shows/{show}/findings/effect", { params: { path, query: bodyOf(proposal) } })
          : proposal.of === "way"
            ? api.GET("/api/shows/{show}/trace/effect", { params: { path, query: bodyOf(proposal) } })
            : api.GET("/api/shows/{show}/promises/{promise}/effect", {
                params: { path: { ...path, promise: proposal.promise }, query: { label: proposal.label } },
              }),
      ),
    enabled: show !== undefined,
    // Not so any more: what asked for it says so by itself.
    retry: false,
  });
}

/** Makes a change that was proposed. What is said then is said although whoever asked for it may be closed by then. */
export function useMakeSo(done?: () => void) {
  return useStep(async (proposal: Proposal, seen) => {
    const show = await answer(
      proposal.of === "finding"
        ? api.POST("/api/shows/{show}/findings/fix", { ...to(seen), body: bodyOf(proposal) })
        : proposal.of === "way"
          ? api.POST("/api/shows/{show}/trace/cut", { ...to(seen), body: bodyOf(proposal) })
          : api.POST("/api/shows/{show}/promises/{promise}/fix", {
              ...to(seen, { promise: proposal.promise }),
              body: { label: proposal.label },
            }),
    );
    done?.();
    return show;
  });
}

/** Lets a finding stay quiet until its facts change, or speak again. */
export function useAccept() {
  return useStep((body: { key: string; accepted: boolean }, seen) =>
    answer(api.PUT("/api/shows/{show}/findings/accepted", { ...to(seen), body })),
  );
}

function bodyOf<P extends Proposal>({ of: _, ...body }: P): Omit<P, "of"> {
  return body;
}

/** How a source comes to a listener, or why not; asked anew for every state of the show and the computer. */
export function useTrace(source: string, listener: string) {
  const show = useShow().data;
  return useQuery({
    queryKey: [...findingsKey, show?.id, show?.revision, "trace", source, listener],
    queryFn: () =>
      answer(
        api.GET("/api/shows/{show}/trace", {
          params: { path: { show: show?.id ?? "" }, query: { source, listener } },
        }),
      ),
    enabled: show !== undefined,
    retry: false,
  });
}

/** What the inspector can show of a point; null: it is of the computer, which Gear shows. */
export function selectionOf(point: string): Selection {
  const [kind, id] = point.split("/");
  if (id && kind === "mix") return { kind, mix: id };
  if (id && kind === "source") return { kind, source: id };
  return null;
}
