import type { Measure, TrafficAnswer } from "../api/client";
import { Plate } from "../rules/Plate";
import { isVerdict } from "./charts";
import { amount, words } from "./units";

type Chart = TrafficAnswer["charts"][number];

type Props = {
  title: string;
  chart: Chart;
  measure: Measure;
  /** What the traffic is narrowed to, of this chart. */
  chosen?: string[];
  /** Narrows everything to a value, or no longer; nothing where nothing can be narrowed. */
  toggle?: (value: string) => void;
  /** A value as it is read. */
  label?: (value: string) => string;
  /** Where the whole table is. */
  table: string;
  /** Shows those left out; nothing where they are not known. */
  more?: () => void;
};

/** What traffic consists of by one thing: a bar for each value; pressing one narrows everything else to it. */
export function BarChart({
  title,
  chart,
  measure,
  chosen = [],
  toggle,
  label = (value) => value,
  table,
  more,
}: Props) {
  const most = Math.max(1, ...chart.bars.map((bar) => amount(bar.sum, measure)));
  return (
    <section aria-label={title} className="min-w-0 rounded border border-edge bg-plate">
      <h2 className="flex items-baseline justify-between border-edge border-b px-2 py-1 font-semibold text-xs">
        {title}
        <a className="font-normal text-dim underline" href={table} download={`${title}.csv`}>
          CSV
        </a>
      </h2>
      <ul className="py-1">
        {chart.bars.map((bar) => {
          const size = amount(bar.sum, measure);
          const isChosen = chosen.includes(bar.value);
          return (
            <li key={bar.value}>
              <button
                type="button"
                aria-pressed={toggle && isChosen}
                disabled={!toggle}
                onClick={() => toggle?.(bar.value)}
                title={`${label(bar.value)}: ${words(size, measure)}`}
                className={`relative grid min-h-6 w-full grid-cols-[minmax(0,1fr)_auto] items-center gap-2 px-2 text-left text-xs enabled:hover:bg-paper ${isChosen ? "bg-rust-wash font-medium" : ""}`}
              >
                <span
                  aria-hidden="true"
                  className={`absolute inset-y-px left-0 rounded-r-sm ${isChosen ? "bg-rust" : "bg-dim"} opacity-15`}
                  style={{ width: `${Math.max(0.5, (size / most) * 100)}%` }}
                />
                <span className="relative flex items-center gap-1 truncate">
                  {isVerdict(bar.value) && chart.by === "verdict" ? (
                    <Plate verdict={bar.value} />
                  ) : (
                    <span className="truncate">{label(bar.value)}</span>
                  )}
                </span>
                <span className="relative text-right text-dim">{words(size, measure)}</span>
              </button>
            </li>
          );
        })}
        {chart.bars.length === 0 && <li className="px-2 text-dim text-xs">nothing</li>}
        {chart.more > 0 && (
          <li>
            {more ? (
              <button type="button" className="min-h-6 px-2 text-rust text-xs underline" onClick={more}>
                {chart.more.toLocaleString("en")} more
              </button>
            ) : (
              <span className="px-2 text-dim text-xs">{chart.more.toLocaleString("en")} more</span>
            )}
          </li>
        )}
      </ul>
    </section>
  );
}
