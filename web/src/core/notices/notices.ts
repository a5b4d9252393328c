import { create } from "zustand";
import { Refusal } from "@/core/api/client";

export interface Notice {
  id: number;
  kind: "wrong" | "done";
  title: string;
  detail?: string;
  /** What can be done about it at once. */
  action?: { words: string; act: () => void };
}

interface NoticeState {
  notices: Notice[];
}

export const useNotices = create<NoticeState>(() => ({ notices: [] }));

let next = 1;

export function tell(kind: Notice["kind"], title: string, detail?: string, action?: Notice["action"]): number {
  const id = next++;
  useNotices.setState(({ notices }) => ({
    notices: [...notices.slice(-3), { id, kind, title, detail, action }],
  }));
  return id;
}

/** Says what was refused, and what would be allowed. */
export function tellWrong(error: unknown) {
  if (error instanceof Refusal)
    tell("wrong", error.message, `Allowed: ${error.problems.map((p) => p.allowed).join("; ")}.`);
  else tell("wrong", "Something went wrong that nobody foresaw.", String(error));
}

export function dismissAll() {
  useNotices.setState({ notices: [] });
}

export function dismiss(id: number) {
  useNotices.setState(({ notices }) => ({ notices: notices.filter((n) => n.id !== id) }));
}
