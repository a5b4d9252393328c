import { useEffect, useId, useLayoutEffect, useRef, useState } from "react";

interface Props<T> {
  label: string;
  value: T;
  /** How the value is written. */
  show: (value: T) => string;
  /** What was typed as a value, or null where it cannot be one. */
  read: (text: string) => T | null;
  /** What can be typed, in words, for when it could not be read. */
  allowed: string;
  onChange: (value: T) => void;
  /** Called when somebody begins to edit, and when that ends, after `onChange`. */
  onEditing?: (editing: boolean) => void;
  /** Up and down keys; left out: they do nothing. */
  step?: (value: T, by: 1 | -1) => T;
  /** Only the field, its label for screen readers. */
  bare?: boolean;
  className?: string;
}

/** A value to type. Enter or leaving takes it, Escape leaves it as it was. */
export function ValueField<T>(props: Props<T>) {
  const { label, value, show, read, allowed, onChange, onEditing, step, bare, className = "" } = props;
  const [text, setState] = useState<string | null>(null);
  const [wrong, setWrong] = useState(false);
  const id = useId();
  const shown = show(value);
  // biome-ignore lint/correctness/useExhaustiveDependencies: a value from elsewhere ends what was half typed only when it is another
  useEffect(() => setWrong(false), [shown]);

  // A value that changes under the hand, before a letter is typed, takes the selection away: what is typed then would be added to it.
  const input = useRef<HTMLInputElement>(null);
  // biome-ignore lint/correctness/useExhaustiveDependencies: only another value does that
  useLayoutEffect(() => {
    if (text === null && document.activeElement === input.current) input.current?.select();
  }, [shown]);

  const setText = (next: string | null) => {
    if ((text === null) !== (next === null)) onEditing?.(next !== null);
    setState(next);
  };

  const take = () => {
    if (text === null) return;
    const next = read(text);
    setWrong(next === null);
    if (next === null) return;
    if (show(next) !== shown) onChange(next);
    setText(null);
  };

  const field = (
    <input
      id={id}
      ref={input}
      aria-label={bare ? label : undefined}
      aria-invalid={wrong}
      aria-describedby={wrong ? `${id}-allowed` : undefined}
      value={text ?? shown}
      onFocus={(e) => e.target.select()}
      onChange={(e) => setText(e.target.value)}
      onBlur={take}
      onKeyDown={(e) => {
        if (e.key === "Enter") {
          // It takes what was typed; a form around it is sent by its own button, and not with what could not be read.
          e.preventDefault();
          take();
        } else if (e.key === "Escape" && (text !== null || wrong)) {
          // It takes back what was typed, and closes nothing.
          e.preventDefault();
          e.stopPropagation();
          setText(null);
          setWrong(false);
        } else if (step && (e.key === "ArrowUp" || e.key === "ArrowDown")) {
          e.preventDefault();
          // However long it is held: one change, taken when it is let go.
          const now = text === null ? value : (read(text) ?? value);
          setText(show(step(now, e.key === "ArrowUp" ? 1 : -1)));
        }
      }}
      onKeyUp={(e) => (e.key === "ArrowUp" || e.key === "ArrowDown") && take()}
      className={`h-8 min-w-0 rounded-md border bg-ground px-2 text-[13px] ${wrong ? "border-wrong" : "border-line hover:border-strong"} ${className}`}
    />
  );
  return (
    <div className={bare ? "" : "grid grid-cols-[5.5rem_minmax(0,1fr)] items-center gap-x-2"}>
      {!bare && (
        <label htmlFor={id} className="text-[13px] text-quiet">
          {label}
        </label>
      )}
      {field}
      {wrong && (
        <p id={`${id}-allowed`} role="alert" className="col-start-2 mt-1 text-xs text-wrong">
          Allowed: {allowed}.
        </p>
      )}
    </div>
  );
}
