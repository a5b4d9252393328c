import { notifyManager, QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { StrictMode } from "react";
import { createRoot } from "react-dom/client";
import { App } from "@/app/App";
import { Refusal, type Show } from "@/core/api/client";
import { followShow, showKey } from "@/core/commands/show";
import { startMeters } from "@/core/meters/meters";
import { startHub } from "@/core/realtime/hub";
import { followJobs } from "@/core/realtime/jobs";
import { followOnAir } from "@/core/realtime/onAir";
import { followStatus } from "@/core/realtime/status";
import { followCables } from "@/features/cables";
import { followCards } from "@/features/cards";
import { followTurns } from "@/features/chains";
import { followDrags } from "@/features/desk";
import { followFindings } from "@/features/findings";
import { followGear } from "@/features/gear";
import { followHistory } from "@/features/history";
import { keepListening } from "@/features/listen";
import { followMicrophones, tendMicrophones, watchInputs } from "@/features/microphones";
import { followPlayers, tendOutputs, watchOutputs } from "@/features/outputs";
import { followPaths } from "@/features/paths";
import { followPromises } from "@/features/promises";
import { followShows } from "@/features/shows";
import { followTakes } from "@/features/takes";
import { startScale } from "@/shared/look/scale";
import { startTheme } from "@/shared/look/theme";
import { Boundary } from "@/shared/ui/Boundary";
import "@/shared/look/theme.css";

// What a hand changed is drawn with the press, not a timer later: between them a ticked box would stand unticked again.
notifyManager.setScheduler(queueMicrotask);

const queries = new QueryClient({
  defaultOptions: {
    queries: {
      // A server that is away comes back; a request that is wrong stays wrong.
      retry: (_, error) => error instanceof Refusal && (error.status === 0 || error.status === 503),
      retryDelay: 1000,
      staleTime: Number.POSITIVE_INFINITY,
      networkMode: "always",
    },
    mutations: { networkMode: "always" },
  },
});

startTheme();
startScale();
startMeters();
for (const follow of [
  followShow,
  followStatus,
  followJobs,
  followOnAir,
  followHistory,
  followTakes,
  followShows,
  followPromises,
  followMicrophones,
  followGear,
  followCables,
  followFindings,
  followCards,
  followPaths,
  followPlayers,
])
  follow(queries);
followDrags();
followTurns();
startHub(queries);
watchInputs();
watchOutputs();
queries.getQueryCache().subscribe(({ query }) => {
  if (query.queryKey[0] !== showKey[0] || !query.state.data) return;
  tendMicrophones(query.state.data as Show);
  tendOutputs(query.state.data as Show);
  keepListening(query.state.data as Show);
});
const root = document.getElementById("root");
if (!root) throw new Error("The page has no root.");
createRoot(root).render(
  <StrictMode>
    <QueryClientProvider client={queries}>
      <Boundary what="The page">
        <App />
      </Boundary>
    </QueryClientProvider>
  </StrictMode>,
);
