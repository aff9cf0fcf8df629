import { useId } from "react";
import type { ReachCell } from "../api/client";
import { percent } from "../rules/order";
import { letsThrough } from "../rules/verdict";

type HoleProps = {
  standing: string;
  /** The share that is stopped, where it depends. */
  stopped?: number;
  size?: number;
};

/** How much of a cell is stopped, in per cent, where figures are asked for. */
export function Figure({ cell }: { cell: ReachCell }) {
  // Shares are rounded sums; whether all or nothing is stopped is known exactly.
  const share = cell.standing === "depends" ? stopped(cell) : cell.standing === "blocked" ? 1 : 0;
  return <span className="figure block text-[11px] text-dim tabular-nums">{percent(share)}</span>;
}

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
    .filter((decider) => !letsThrough(decider.verdict))
    .reduce((sum, decider) => sum + decider.share, 0);
}

/** Whether there is nobody and nothing to ask about, such as in a group without members. */
export function isEmpty(cell: ReachCell): boolean {
  return cell.deciders.length === 0;
}

/** Whether some people can use something, in words. */
export function told(cell: ReachCell): string {
  if (isEmpty(cell)) return "nobody is in it";
  return cell.standing === "depends" ? `depends on ${cell.dependsOn.join(", ")}` : cell.standing;
}
