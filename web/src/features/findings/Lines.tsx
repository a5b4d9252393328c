/** Sentences under a heading; nothing where there are none and nothing is to be said of that. */
export function Lines({
  title,
  lines,
  none,
  wrong,
}: {
  title: string;
  lines: string[];
  none?: string;
  wrong?: boolean;
}) {
  if (lines.length === 0 && !none) return null;
  return (
    <div className="mb-1.5">
      <h3 className={`text-[11px] font-semibold ${wrong ? "text-wrong" : "text-quiet"}`}>{title}</h3>
      {lines.length === 0 ? (
        <p className="text-quiet">{none}</p>
      ) : (
        <ul className="grid gap-1">
          {lines.map((line) => (
            <li key={line}>{line}</li>
          ))}
        </ul>
      )}
    </div>
  );
}
