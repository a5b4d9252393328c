/** How far something is: a line that fills. */
export function Progress({ label, value }: { label: string; value: number }) {
  return (
    <div
      role="progressbar"
      aria-label={label}
      aria-valuemin={0}
      aria-valuemax={100}
      aria-valuenow={Math.round(value * 100)}
      className="h-1.5 w-28 shrink-0 overflow-hidden rounded-full bg-line"
    >
      <div className="h-full origin-left bg-lamp" style={{ transform: `scaleX(${value})` }} />
    </div>
  );
}
