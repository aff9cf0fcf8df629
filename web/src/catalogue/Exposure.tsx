export const EXPOSURES = ["slight", "moderate", "serious", "severe"];

/** Exposure as a rod with one to four notches. */
export function Exposure({ level }: { level: string }) {
  const notches = EXPOSURES.indexOf(level) + 1;
  return (
    <span
      className="flex shrink-0 items-center gap-px"
      role="img"
      aria-label={`exposure ${level}`}
      title={`exposure ${level}`}
    >
      {EXPOSURES.map((name, index) => (
        <span key={name} className={`h-2.5 w-1 border border-dim ${index < notches ? "bg-dim" : ""}`} />
      ))}
    </span>
  );
}
