import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { api, type Measure, type Replayed as Result, replayTable } from "../api/client";
import { goTo } from "../base/address";
import { Plate } from "../rules/Plate";
import { type OpenRulebase, useOpenRulebase } from "../session/contexts";
import { BarChart } from "./BarChart";
import { ChartGrid } from "./ChartGrid";
import { CHARTS, isVerdict, labelled } from "./charts";
import { TimeBars } from "./TimeStrip";
import { amount, words } from "./units";

const FEW = 8;
const CHANGED_AT_ONCE = 100;

type Props = { number: number; measure: Measure; close: () => void };

/** What came of a replay, as of a tape; only sums were kept, so nothing narrows them. */
export function Replayed({ number, measure, close }: Props) {
  const openRulebase = useOpenRulebase();
  const [wide, setWide] = useState<string>();
  const answer = useQuery({
    queryKey: ["replayed", openRulebase.id, number],
    queryFn: () => api.replayed(openRulebase.id, number),
  });
  if (answer.error) return <p className="p-6 text-rust">{answer.error.message}</p>;
  if (!answer.data) return <p className="p-6 text-dim">Opening the replay …</p>;
  const { traffic } = answer.data;
  const shown = CHARTS.filter(([by]) => !wide || by === wide).flatMap(([by, title]) => {
    const chart = traffic.charts.find((one) => one.by === by);
    return chart ? [{ by, title, chart: cut(chart, measure, wide ? chart.bars.length : FEW) }] : [];
  });
  return (
    <>
      <TimeBars answer={traffic} measure={measure} />
      <div className="flex items-center gap-2 border-edge border-b bg-plate px-3 py-1 text-xs">
        <span>
          Replay {number}: <b>{words(amount(traffic.total, measure), measure)}</b>
          {measure === "connections" && " connections"}
        </span>
        <span className="text-dim">Sums only: load a file as a tape to narrow them.</span>
        <button type="button" className="press ml-auto text-xs" onClick={close}>
          Back to the tapes
        </button>
      </div>
      <div className="min-h-0 flex-1 overflow-auto p-2">
        <Changed result={answer.data} />
        <Unread result={answer.data} />
        <ChartGrid isWide={wide !== undefined} back={() => setWide(undefined)}>
          {shown.map(({ by, title, chart }) => (
            <BarChart
              key={by}
              title={title}
              chart={chart}
              measure={measure}
              label={(value) => labelled(openRulebase, by, value)}
              table={replayTable(openRulebase.id, number, by)}
              more={wide ? undefined : () => setWide(by)}
            />
          ))}
        </ChartGrid>
      </div>
    </>
  );
}

type Chart = Result["traffic"]["charts"][number];

/** The longest bars of a chart by what is measured. */
function cut(chart: Chart, measure: Measure, most: number): Chart {
  const bars = chart.bars.toSorted((a, b) => amount(b.sum, measure) - amount(a.sum, measure)).slice(0, most);
  return { ...chart, bars, more: chart.more + chart.bars.length - bars.length };
}

/** Connections that the revision compared with decides otherwise. */
function Changed({ result }: { result: Result }) {
  const openRulebase = useOpenRulebase();
  const [most, setMost] = useState(CHANGED_AT_ONCE);
  if (result.changedLines === 0) return null;
  return (
    <section aria-label="Another verdict" className="mb-2 rounded border border-edge bg-plate text-xs">
      <h2 className="border-edge border-b px-2 py-1 font-semibold">
        {result.changedTimes.toLocaleString("en")} connections get another verdict than by the revision
        compared with
      </h2>
      <ul className="max-h-60 overflow-auto">
        {result.changed.slice(0, most).map((one) => (
          <li key={`${one.probe} ${one.before} ${one.after} ${one.rulesBefore} ${one.rulesAfter}`}>
            <button
              type="button"
              title={`${ruled(openRulebase, one.rulesBefore)} → ${ruled(openRulebase, one.rulesAfter)}. Run it as a probe.`}
              onClick={() => goTo({ page: "rulebase", rule: undefined, find: undefined, probe: one.probe })}
              className="grid w-full grid-cols-[60px_170px_minmax(0,1fr)] items-start gap-2 px-2 py-1 text-left hover:bg-paper"
            >
              <span className="text-right font-medium">{one.times.toLocaleString("en")}×</span>
              <span className="flex items-center gap-1">
                <Verdict word={one.before} /> → <Verdict word={one.after} />
              </span>
              <span>{one.probe}</span>
            </button>
          </li>
        ))}
        {result.changedLines > Math.min(most, result.changed.length) && (
          <li className="px-2 py-1 text-dim">
            … and {(result.changedLines - Math.min(most, result.changed.length)).toLocaleString("en")} more
            lines.{" "}
            {most < result.changed.length && (
              <button
                type="button"
                className="text-rust underline"
                onClick={() => setMost(result.changed.length)}
              >
                show more
              </button>
            )}
          </li>
        )}
      </ul>
    </section>
  );
}

const Verdict = ({ word }: { word: string }) =>
  isVerdict(word) ? <Plate verdict={word} /> : <span className="text-ochre">{word}</span>;

/** Rules by number and name, as far as there still are such. */
const ruled = (openRulebase: OpenRulebase, ids: string) =>
  ids
    .split(" or ")
    .map((id) => labelled(openRulebase, "rule", id))
    .join(" or ");

/** What is not in the sums, and what nobody knows here. */
function Unread({ result }: { result: Result }) {
  if (result.unread.length === 0 && result.missing.length === 0) return null;
  const times = result.unread.reduce((sum, one) => sum + one.times, 0);
  return (
    <details className="mb-2 rounded border border-edge bg-plate px-2 py-1 text-xs">
      <summary className="cursor-pointer">
        {result.missing.length > 0 && `${result.missing.length} files could not be opened. `}
        {times.toLocaleString("en")} times something could not be read, or names somebody or something that is
        not known here.
      </summary>
      <ul className="list-disc pl-4">
        {result.missing.map((one) => (
          <li key={one}>{one}</li>
        ))}
        {result.unread.map((one) => (
          <li key={one.reason}>
            {one.reason}: {one.times.toLocaleString("en")}×
            {one.examples.length > 0 && (
              <span className="text-dim"> – such as {one.examples.join("; ")}</span>
            )}
          </li>
        ))}
      </ul>
    </details>
  );
}
