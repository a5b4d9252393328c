import { useId } from "react";
import { isTaken, longestName, type Named } from "./names";
import { fieldLook, Row } from "./Row";

interface Props {
  label?: string;
  value: string;
  /** What it is to be told from. */
  others: readonly Named[];
  /** What one of those is called: source, mix. */
  of: string;
  onChange: (name: string) => void;
}

/** Asks for a name that is to be told from others, and says at once where it cannot be. */
export function NameRow({ label = "Name", value, others, of, onChange }: Props) {
  const id = useId();
  const taken = value.trim() !== "" && isTaken(value, others);
  return (
    <>
      <Row label={label} id={id}>
        <input
          id={id}
          value={value}
          maxLength={longestName}
          aria-invalid={taken}
          aria-describedby={taken ? `${id}-taken` : undefined}
          onChange={(e) => onChange(e.target.value)}
          className={fieldLook}
        />
      </Row>
      {taken && (
        <p id={`${id}-taken`} role="status" className="col-start-2 text-xs text-wrong">
          Another {of} has this name; choose one that tells them apart.
        </p>
      )}
    </>
  );
}
