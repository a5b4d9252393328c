import { lazy, Suspense } from "react";
import { isOpen, useJobs } from "@/core/realtime/jobs";

const JobsMenu = lazy(() => import("./JobsMenu").then((m) => ({ default: m.JobsMenu })));

/** Long work that goes on beside the sound; nothing while there is none. */
export function JobsState() {
  const open = useJobs().filter(isOpen);
  return open.length === 0 ? null : (
    <Suspense>
      <JobsMenu open={open} />
    </Suspense>
  );
}
