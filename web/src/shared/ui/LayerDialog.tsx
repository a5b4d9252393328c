import type { ReactNode } from "react";
import { closeLayer } from "@/core/place/place";
import { Dialog } from "./Dialog";

/** A dialog that the address opens: it is there as long as the place says so. */
export function LayerDialog(props: { title: string; words: string; wide?: boolean; children: ReactNode }) {
  const { children, ...rest } = props;
  return (
    <Dialog open onOpenChange={(open) => !open && closeLayer()} {...rest}>
      {children}
    </Dialog>
  );
}
