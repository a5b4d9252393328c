import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { StrictMode } from "react";
import { createRoot } from "react-dom/client";
import { Refusal, type Show } from "./api/client";
import { App } from "./app/App";
import { followShow } from "./listen/listen";
import { startHub } from "./live/hub";
import { startMeters } from "./live/meters";
import { startTheme } from "./look/theme";
import { tendMicrophones, watchInputs } from "./microphones/microphones";
import { showKey } from "./show/show";
import "./look/theme.css";

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
startMeters();
startHub(queries);
watchInputs();
queries.getQueryCache().subscribe(({ query }) => {
  if (query.queryKey[0] !== showKey[0] || !query.state.data) return;
  tendMicrophones(query.state.data as Show);
  followShow(query.state.data as Show);
});
const root = document.getElementById("root");
if (!root) throw new Error("The page has no root.");
createRoot(root).render(
  <StrictMode>
    <QueryClientProvider client={queries}>
      <App />
    </QueryClientProvider>
  </StrictMode>,
);
