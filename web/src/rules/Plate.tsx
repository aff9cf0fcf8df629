import { letsThrough } from "./verdict";

/** Two rows of round holes as one path, for a stack in motion draws hundreds of plates. */
const HOLES = [6, 12, 18, 24]
  .flatMap((x) => [5.4, 10.6].map((y) => `M${x - 1.7} ${y}a1.7 1.7 0 1 0 3.4 0a1.7 1.7 0 1 0 -3.4 0`))
  .join("");

/**
 * A verdict as a small perforated plate: open holes let through, filled holes stop. A rejecting plate also has a
 * lip that throws back, and one that shows a page has a sheet hung before it. The word stands beside it wherever there is room, and is always there for readers.
 */
export function Plate({ verdict, word = true }: { verdict: string; word?: boolean }) {
  const passes = letsThrough(verdict);
  const shows = ["ask", "stop", "enrol"].includes(verdict);
  const colour = passes ? "text-teal" : "text-madder";
  return (
    <span className={`inline-flex items-center gap-1.5 ${colour}`}>
      <svg width="30" height="16" viewBox="0 0 30 16" aria-hidden="true" className="shrink-0">
        <rect
          x="1"
          y="1.5"
          width="28"
          height="13"
          rx="2.5"
          fill="none"
          stroke="currentColor"
          strokeWidth="1.3"
        />
        <path
          data-holes
          d={HOLES}
          fill={passes ? "none" : "currentColor"}
          stroke="currentColor"
          strokeWidth="1"
        />
        {shows && (
          <path
            d="M17 4 H31 V15 H17 Z M19.5 7.5 H28.5 M19.5 10 H26"
            className="fill-paper"
            stroke="currentColor"
            strokeWidth="1.2"
          />
        )}
        {verdict === "reject" && (
          <path d="M1 1.5 L1 14.5 L-3 8 Z M0 4 L0 12" stroke="currentColor" strokeWidth="2.6" />
        )}
      </svg>
      {word ? <span className="font-medium">{verdict}</span> : <span className="sr-only">{verdict}</span>}
    </span>
  );
}
