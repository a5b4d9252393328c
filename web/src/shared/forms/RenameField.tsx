import { useState } from "react";
import { longestName, readName } from "./names";
import { fieldLook } from "./Row";

interface Props {
  label: string;
  name: string;
  /** By this the focus is found again where the field was. */
  focusKey: string;
  /** Given: it is no name but a text, which may be empty and have so many characters. */
  text?: number;
  /** The new name; null: it stays. */
  onDone: (name: string | null) => void;
}

/** A name that is written anew in its place: Enter or going elsewhere takes it, Escape leaves it as it was. */
export function RenameField({ label, name, focusKey, text, onDone }: Props) {
  const [typed, setTyped] = useState(name);
  const take = () => {
    const read = text === undefined ? readName(typed) : typed.trim();
    onDone(read === name ? null : read);
  };
  return (
    <input
      // biome-ignore lint/a11y/noAutofocus: it appears by the person's own press on Rename
      autoFocus
      data-focus={focusKey}
      aria-label={label}
      value={typed}
      maxLength={text ?? longestName}
      onFocus={(e) => e.target.select()}
      onChange={(e) => setTyped(e.target.value)}
      onBlur={take}
      onKeyDown={(e) => {
        if (e.key === "Enter") take();
        if (e.key === "Escape") {
          e.stopPropagation();
          onDone(null);
        }
      }}
      className={`${fieldLook} w-full`}
    />
  );
}
