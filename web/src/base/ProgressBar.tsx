/** How many of how many are done, as a bar and in numbers; nothing while it is not known of how many. */
export function ProgressBar({ label, done, total }: { label: string; done: number; total: number }) {
  if (total === 0) return null;
  return (
    <span
      role="progressbar"
      aria-label={label}
      aria-valuenow={done}
      aria-valuemax={total}
      className="flex shrink-0 items-center gap-2 tabular-nums"
    >
      <span className="block h-2 w-32 overflow-hidden rounded-sm border border-edge bg-ground">
        <span className="block h-full bg-dim" style={{ width: `${(100 * done) / total}%` }} />
      </span>
      {done.toLocaleString("en")} of {total.toLocaleString("en")}
    </span>
  );
}
