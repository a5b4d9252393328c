import type { ReactNode } from "react";
import { Menu, type MenuItem } from "./Menu";

/** A word of a sentence that can be another: pressed, it shows what else it could be. */
export function Word({
  label,
  words,
  items,
  title,
  note,
  quiet,
  disabled,
}: {
  /** What is chosen with it, for who does not see the sentence around it. */
  label: string;
  words: ReactNode;
  items: MenuItem[];
  title?: string;
  note?: ReactNode;
  /** It says that there is nothing. */
  quiet?: boolean;
  disabled?: boolean;
}) {
  return (
    <Menu
      disabled={disabled}
      title={title}
      note={note}
      trigger={
        <button
          type="button"
          aria-label={`${label}: ${typeof words === "string" ? words : ""}`}
          className={`inline max-w-full rounded-sm text-left break-words underline decoration-strong decoration-dotted decoration-1 underline-offset-4 hover:bg-raised hover:decoration-solid data-[state=open]:bg-raised ${quiet ? "text-quiet" : "font-medium"}`}
        >
          {words}
        </button>
      }
      items={items}
    />
  );
}
