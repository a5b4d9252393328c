import type { FormEvent, ReactNode } from "react";
import { Button } from "@/shared/ui/Button";
import { Problems } from "./Problems";

interface Props {
  /** Its rows. */
  children: ReactNode;
  /** The words on the button that does it. */
  act: string;
  /** All that is needed is there and right. */
  ready: boolean;
  /** It is being done: it is not asked for again. */
  pending: boolean;
  error: Error | null;
  onSubmit: () => void;
  onCancel: () => void;
}

/** A form in a dialog: what it asks, what was wrong with the last try, and the two ways out. Enter in a field does it where it can be done. */
export function DialogForm({ children, act, ready, pending, error, onSubmit, onCancel }: Props) {
  const submit = (e: FormEvent) => {
    e.preventDefault();
    if (ready && !pending) onSubmit();
  };
  return (
    <form onSubmit={submit} className="flex flex-col gap-3">
      {children}
      <Problems error={error} />
      <div className="flex justify-end gap-2">
        <Button onClick={onCancel}>{pending ? "Close" : "Cancel"}</Button>
        <Button type="submit" tone="lamp" disabled={!ready || pending}>
          {act}
        </Button>
      </div>
    </form>
  );
}
