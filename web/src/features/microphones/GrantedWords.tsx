export interface Processing {
  echoCancellation?: unknown;
  noiseSuppression?: unknown;
  autoGainControl?: unknown;
  sampleRate?: number | null;
}

const processings = [
  ["echoCancellation", "echo removal"],
  ["noiseSuppression", "noise reduction"],
  ["autoGainControl", "level control"],
] as const;

/** What the browser does to the sound, as it says itself. */
export function GrantedWords({ settings }: { settings: Processing | null | undefined }) {
  const on = processings.filter(([key]) => settings?.[key] === true).map(([, words]) => words);
  const unknown = processings.filter(([key]) => typeof settings?.[key] !== "boolean").map(([, words]) => words);
  const rate = settings?.sampleRate;
  return (
    <p className="text-xs text-quiet">
      {on.length === 0 && unknown.length === 0 && "Echo removal, noise reduction and level control are off."}
      {on.length > 0 && <span className="text-wrong">The browser insists on {on.join(", ")}. </span>}
      {unknown.length > 0 && `It does not say whether ${unknown.join(", ")} is off. `}
      {typeof rate === "number" && ` ${rate / 1000} kHz.`}
    </p>
  );
}
