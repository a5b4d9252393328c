import { type QueryClient, useMutation, useQueryClient } from "@tanstack/react-query";
import { useEffect } from "react";
import { answer, api, type Processor } from "@/core/api/client";
import { tell, tellWrong } from "@/core/notices/notices";
import { acceptLoop } from "./loops";

/** A change of a variant's chain; or a step in the show, which the show's own history takes back. */
type Done = { variant: string; before: Processor[]; after: Processor[] } | "in the show";

interface History {
  past: Done[];
  future: Done[];
}

/** The turn in which all that is done to the chains of a loop waits for what was done before. */
export const turnOf = (loop: string) => `bench ${loop}`;

const longest = 100;
const histories = new Map<string, History>();

function historyOf(loop: string): History {
  const known = histories.get(loop) ?? { past: [], future: [] };
  histories.set(loop, known);
  return known;
}

function did(loop: string, done: Done) {
  const history = historyOf(loop);
  history.past = [...history.past, done].slice(-longest);
  history.future = [];
}

/** A variant has another chain. */
export function didOnBench(loop: string, variant: string, before: Processor[], after: Processor[]) {
  did(loop, { variant, before, after });
}

/** From the bench, something is done in the show: from now on that is what comes back first, whether or not it was answered. Returns what takes this note back where it was refused. */
export function doesInShow(loop: string): () => void {
  did(loop, "in the show");
  return () => {
    const history = historyOf(loop);
    const at = history.past.lastIndexOf("in the show");
    history.past = history.past.filter((_, i) => i !== at);
  };
}

async function setChain(queries: QueryClient, show: string, loop: string, variant: string, chain: Processor[]) {
  const params = { path: { show, loop, variant } };
  const now = await answer(api.PATCH("/api/shows/{show}/loops/{loop}/variants/{variant}", { params, body: { chain } }));
  acceptLoop(queries, show, now);
}

/** While the bench is shown, Undo and Redo by keys are about what was done on it, and never about a step of the show that was done elsewhere. */
export function useBenchUndo(show: string, loop: string) {
  const queries = useQueryClient();
  const { mutate } = useMutation({
    mutationFn: async (way: "undo" | "redo") => {
      const history = historyOf(loop);
      const done = (way === "undo" ? history.past : history.future).at(-1);
      if (!done) {
        tell("done", "Nothing more on the bench.", "The show’s own steps are taken back above.");
        return;
      }
      if (done === "in the show") return;
      // Whatever becomes of it: a variant that is gone must not stand in the way of what was done before.
      moved(history, way);
      await setChain(queries, show, loop, done.variant, way === "undo" ? done.before : done.after);
    },
    // What the hand did last is answered by then, and is what is taken back.
    scope: { id: turnOf(loop) },
    onError: tellWrong,
  });
  useEffect(() => {
    const press = (e: KeyboardEvent) => {
      const key = e.key.toLowerCase();
      if (!(e.ctrlKey || e.metaKey) || e.altKey || (key !== "z" && key !== "y")) return;
      const at = e.target instanceof Element ? e.target : document.body;
      if (at.closest("input:not([type=range]), textarea, [contenteditable], [role=dialog], [role=alertdialog]")) return;
      const way = key === "y" || e.shiftKey ? "redo" : "undo";
      const history = historyOf(loop);
      const waiting = queries.isMutating({ predicate: (m) => m.options.scope?.id === turnOf(loop) }) > 0;
      if (!waiting && (way === "undo" ? history.past : history.future).at(-1) === "in the show") {
        // The show does it; here it only moves on.
        moved(history, way);
        return;
      }
      e.preventDefault();
      e.stopImmediatePropagation();
      mutate(way);
    };
    window.addEventListener("keydown", press, { capture: true });
    return () => window.removeEventListener("keydown", press, { capture: true });
  }, [loop, mutate, queries]);
}

function moved(history: History, way: "undo" | "redo") {
  const [from, onto] = way === "undo" ? [history.past, history.future] : [history.future, history.past];
  const done = from.pop();
  if (done) onto.push(done);
}
