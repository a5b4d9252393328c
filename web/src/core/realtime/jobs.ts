import { type QueryClient, useMutation, useQuery } from "@tanstack/react-query";
import { answer, api, type Job } from "@/core/api/client";
import { tellWrong } from "@/core/notices/notices";
import { refetchOn } from "./hub";

const jobsKey = ["jobs"] as const;

/** Keeps in step with the server what is being done beside the sound. */
export function followJobs(queries: QueryClient) {
  refetchOn(queries, "JobsChanged", jobsKey);
}

/** Long work that waits, is being done, or ended last; newest first. */
export function useJobs(): readonly Job[] {
  return useQuery({ queryKey: jobsKey, queryFn: () => answer(api.GET("/api/jobs")) }).data ?? [];
}

/** Whether it waits or is being done. */
export const isOpen = (job: Job) => job.state === "Waiting" || job.state === "Running";

/** How far it is, in words. */
export function progressOf(job: Job): string {
  return job.state === "Waiting" ? "waits for its turn" : `${Math.round(job.progress * 100)} %`;
}

/** Stops a job. */
export function useStopJob() {
  return useMutation({
    mutationFn: (id: string) => answer(api.DELETE("/api/jobs/{job}", { params: { path: { job: id } } })),
    onError: tellWrong,
  });
}
