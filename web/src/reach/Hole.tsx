import { useId } from "react";
import type { ReachCell } from "../api/client";

type HoleProps = {
  standing: string;
  /** The share that is stopped, where it depends. */
  stopped?: number;
  size?: number;
};

/** A hole of the sieve: open lets through, filled stops; where it depends, filled as far as it stops. */
export function Hole({ standing, stopped = 0.5, size = 16 }: HoleProps) {
  const clip = useId();
  // Never quite empty or full: what depends must not look like what does not.
  const height = 10 * Math.min(0.85, Math.max(0.15, stopped));
  return (
    <svg
      width={size}
      height={size}
      viewBox="0 0 16 16"
      role="img"
      aria-label={standing}
      className={`shrink-0 ${standing === "blocked" ? "text-madder" : standing === "allowed" ? "text-teal" : "text-ochre"}`}
    >
      <circle
        cx="8"
        cy="8"
        r="5"
        fill={standing === "blocked" ? "currentColor" : "none"}
        stroke="currentColor"
        strokeWidth="1.8"
      />
      {standing === "depends" && (
        <>
          <clipPath id={clip}>
            <rect x="0" y={13 - height} width="16" height={height} />
          </clipPath>
          <circle cx="8" cy="8" r="5" fill="currentColor" clipPath={`url(#${clip})`} />
        </>
      )}
    </svg>
  );
}

/** The share of a cell that is stopped. */
export function stopped(cell: ReachCell): number {
  return cell.deciders
    .filter((decider) => !["allow", "ask"].includes(decider.verdict))
    .reduce((sum, decider) => sum + decider.share, 0);
}

/** Whether some people can use something, in words. */
export function told(cell: ReachCell): string {
  return cell.standing === "depends" ? `depends on ${cell.dependsOn.join(", ")}` : cell.standing;
}
