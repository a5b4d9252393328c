import { FileUp } from "lucide-react";
import { useRef } from "react";
import { Button } from "./Button";

interface Props {
  /** What is picked, for screen readers. */
  label: string;
  words: string;
  disabled?: boolean;
  onFile: (file: File) => void;
}

/** Asks for a JSON file. */
export function PickJson({ label, words, disabled, onFile }: Props) {
  const input = useRef<HTMLInputElement>(null);
  return (
    <>
      <input
        ref={input}
        type="file"
        accept=".json,application/json"
        aria-label={label}
        className="sr-only"
        tabIndex={-1}
        onChange={(e) => {
          const chosen = e.target.files?.[0];
          // The same file can be picked again.
          e.target.value = "";
          if (chosen) onFile(chosen);
        }}
      />
      <Button icon={<FileUp size={15} />} disabled={disabled} onClick={() => input.current?.click()}>
        {words}
      </Button>
    </>
  );
}
