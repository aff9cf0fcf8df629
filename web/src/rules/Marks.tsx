import type { Mark } from "../api/client";
import { isLoud, sentence } from "./known";

const LOOK: Record<string, { colour: string; fill: string }> = {
  error: { colour: "text-rust", fill: "currentColor" },
  warning: { colour: "text-ochre", fill: "url(#half)" },
  note: { colour: "text-dim", fill: "none" },
};

/** A finding as a rivet: full for errors, half for warnings, hollow for notes. */
export function Rivet({ severity }: { severity: string }) {
  const look = LOOK[severity] ?? LOOK.note;
  return (
    <svg width="12" height="12" viewBox="0 0 12 12" aria-hidden="true" className={`shrink-0 ${look.colour}`}>
      <circle cx="6" cy="6" r="4.4" fill="none" stroke="currentColor" strokeWidth="1.6" />
      {severity === "error" && <circle cx="6" cy="6" r="4.4" fill="currentColor" />}
      {severity === "warning" && <path d="M6 1.6 A4.4 4.4 0 0 0 6 10.4 Z" fill="currentColor" />}
    </svg>
  );
}

/** The findings of one rule that are worth a mark. */
export function Marks({
  findings,
  number,
}: {
  findings: Mark[];
  number: (rule: string) => number | undefined;
}) {
  const loud = findings.filter(isLoud);
  if (loud.length === 0) return null;
  return (
    <span
      className="flex items-center gap-0.5"
      role="img"
      aria-label={loud.map((f) => f.kind).join(", ")}
      title={loud.map((f) => sentence(f.said, number)).join("\n")}
    >
      {loud.map((finding) => (
        <Rivet key={finding.kind} severity={finding.severity} />
      ))}
    </span>
  );
}
