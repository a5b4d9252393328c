import {
  type QueryClient,
  QueryObserver,
  queryOptions,
  useMutation,
  useQuery,
  useQueryClient,
} from "@tanstack/react-query";
import { answer, api, type Take } from "@/core/api/client";
import { useOneAtATime } from "@/core/commands/once";
import { tell, tellWrong } from "@/core/notices/notices";
import { refetchOn } from "@/core/realtime/hub";
import { endsBetween } from "./ends";

const takesKey = ["takes"] as const;

const takesQuery = queryOptions({ queryKey: takesKey, queryFn: () => answer(api.GET("/api/takes")) });

/** Keeps the list in step with the server, on every screen: what ends a recording is told where one is. */
export function followTakes(queries: QueryClient) {
  let before: Take[] | undefined;
  new QueryObserver(queries, takesQuery).subscribe(({ data }) => {
    if (!data || data === before) return;
    if (before) for (const { title, detail } of endsBetween(before, data)) tell("wrong", title, detail);
    before = data;
  });
  refetchOn(queries, "TakesChanged", takesKey);
  refetchOn(queries, "StorageChanged", takesKey);
}

export function useTakes() {
  return useQuery(takesQuery);
}

/** Whether the server still has a take among those that are not deleted; true where it does not answer. */
export async function isThere(queries: QueryClient, take: string): Promise<boolean> {
  await queries.refetchQueries({ queryKey: takesKey, exact: true });
  return queries.getQueryData<Take[]>(takesKey)?.some((t) => t.id === take) ?? true;
}

/** What lay among the takes when the server started, and is none. */
export function useDamagedTakes() {
  return useQuery({ queryKey: [...takesKey, "damaged"], queryFn: () => answer(api.GET("/api/takes/damaged")) });
}

/** The address of a track's file. */
export function trackUrl(take: string, track: string): string {
  return `/api/takes/${take}/tracks/${track}/file`;
}

/** Where a take's time line, or its marks, are downloaded for other programs. */
export function timeLineUrl(take: string, ending: "otio" | "edl" | "csv" | "vtt", rate?: number): string {
  return `/api/takes/${take}/timeline/${ending}${rate ? `?rate=${rate}` : ""}`;
}

/** Where what a job made is downloaded. */
export function jobFileUrl(job: string): string {
  return `/api/jobs/${job}/file`;
}

/** Begins what takes long on a whole take: reading all of it through, or packing it into one file. */
export function useTakeJob(take: string) {
  const { begin, end } = useOneAtATime();
  const { mutate, isPending } = useMutation({
    mutationFn: (kind: "check" | "export") => {
      const params = { path: { take } };
      return kind === "check"
        ? answer(api.POST("/api/takes/{take}/check", { params }))
        : answer(api.POST("/api/takes/{take}/export", { params }));
    },
    onError: tellWrong,
    onSettled: end,
  });
  return { mutate: (kind: "check" | "export") => begin(() => mutate(kind)), isPending };
}

/** Pauses the take that is being recorded, or goes on with it. */
export function usePause() {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: (on: boolean) =>
      answer(on ? api.POST("/api/takes/current/pause") : api.POST("/api/takes/current/go-on")),
    onError: tellWrong,
    onSettled: () => queries.invalidateQueries({ queryKey: takesKey }),
  });
}

/** Marks this moment of the take that is being recorded. */
export function useMark() {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: (words: string) => answer(api.POST("/api/takes/current/marks", { body: { words } })),
    onError: tellWrong,
    onSettled: () => queries.invalidateQueries({ queryKey: takesKey }),
  });
}

/** How long a test take is, seconds. */
export const testSeconds = 10;

/** Begins a take that ends by itself after some seconds, to hear and to judge whether all is as it should be. */
export function useTestTake() {
  const queries = useQueryClient();
  const { begin, end } = useOneAtATime();
  const { mutate, isPending } = useMutation({
    mutationFn: () => answer(api.POST("/api/takes", { body: { name: "Test take", seconds: testSeconds } })),
    onError: tellWrong,
    onSettled: () => {
      end();
      return queries.invalidateQueries({ queryKey: takesKey });
    },
  });
  return {
    mutate: (onBegun: (take: string) => void) => begin(() => mutate(undefined, { onSuccess: (t) => onBegun(t.id) })),
    isPending,
  };
}

/** Begins a take, or ends the one that is being recorded. */
export function useRecord() {
  const queries = useQueryClient();
  const settled = () => void queries.invalidateQueries({ queryKey: takesKey });
  const start = useMutation({
    mutationFn: () => answer(api.POST("/api/takes", { body: {} })),
    onError: tellWrong,
    onSettled: settled,
  });
  const stop = useMutation({
    mutationFn: () => answer(api.POST("/api/takes/current/stop")),
    onError: tellWrong,
    onSettled: settled,
  });
  return { start, stop };
}
