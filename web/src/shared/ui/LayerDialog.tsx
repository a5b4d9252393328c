import type { ReactNode } from "react";
import { closeLayer } from "@/core/place/place";
import { Dialog } from "./Dialog";

/** A dialog that the address opens: it is there as long as the place says so. */
export function LayerDialog({ title, words, children }: { title: string; words: string; children: ReactNode }) {
  return (
    <Dialog open onOpenChange={(open) => !open && closeLayer()} title={title} words={words}>
      {children}
    </Dialog>
  );
}
