import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { api, type Measure, type Narrowing, trafficTable } from "../api/client";
import { useStored } from "../base/useStored";
import { useAnswers, useOpenRulebase } from "../session/contexts";
import { BarChart } from "./BarChart";
import { ChartGrid } from "./ChartGrid";
import { Connections } from "./Connections";
import { CHARTS, labelled } from "./charts";
import { TimeStrip } from "./TimeStrip";
import { amount, share, words } from "./units";
import { KeepWatch } from "./Watches";

const FEW = 8;
const MANY = 200;

type Props = {
  measure: Measure;
  narrowing: Narrowing;
  narrow: (narrowing: Narrowing) => void;
};

/** What is on the network: over time, and by what, who, where; each bar narrows all the others. */
export function Overview({ measure, narrowing, narrow }: Props) {
  const openRulebase = useOpenRulebase();
  const answers = useAnswers();
  const [wide, setWide] = useState<string>();
  const [isTold, setTold] = useStored("traffic connections", "charts");
  const many = wide ? MANY : FEW;
  const answer = useQuery({
    queryKey: ["traffic", openRulebase.id, answers.hits?.state, narrowing, measure, wide],
    queryFn: () =>
      api.traffic(openRulebase.id, wide ? [wide] : CHARTS.map(([by]) => by), narrowing, measure, many),
    placeholderData: (before) => before,
  });
  if (!answer.data) return <p className="p-6 text-dim">Adding up the tapes …</p>;
  const { data } = answer;
  const label = (by: string) => (value: string) => labelled(openRulebase, by, value);
  const chosen = (by: string) =>
    narrowing.only.filter((one) => one.startsWith(`${by}:`)).map((one) => one.slice(by.length + 1));
  const toggle = (by: string, value: string) => {
    const one = `${by}:${value}`;
    narrow({
      ...narrowing,
      only: narrowing.only.includes(one)
        ? narrowing.only.filter((other) => other !== one)
        : [...narrowing.only, one],
    });
  };
  const isNarrowed = narrowing.only.length > 0 || narrowing.from !== undefined;
  return (
    <>
      <TimeStrip
        answer={data}
        measure={measure}
        from={narrowing.from}
        to={narrowing.to}
        narrow={(from, to) => narrow({ ...narrowing, from, to })}
      />
      <div className="flex flex-wrap items-center gap-1.5 border-edge border-b bg-plate px-3 py-1 text-xs">
        <span>
          <b>{words(amount(data.total, measure), measure)}</b>{" "}
          {isNarrowed &&
            `of ${words(amount(data.all, measure), measure)} (${share(amount(data.total, measure), amount(data.all, measure))})`}{" "}
          {measure === "connections" && "connections"}
        </span>
        {narrowing.only.map((one) => {
          const [by, value] = split(one);
          return (
            <button
              key={one}
              type="button"
              className="press text-xs"
              aria-label={`No longer only ${by} ${labelled(openRulebase, by, value)}`}
              onClick={() => toggle(by, value)}
            >
              <span className="text-dim">{by}</span> {labelled(openRulebase, by, value)} ×
            </button>
          );
        })}
        {isNarrowed && (
          <>
            <button type="button" className="text-rust underline" onClick={() => narrow({ only: [] })}>
              show everything
            </button>
            <KeepWatch narrowing={narrowing} measure={measure} />
          </>
        )}
        <span className="ml-auto flex gap-1">
          {[
            ["charts", "Charts"],
            ["connections", "Connections"],
          ].map(([key, name]) => (
            <button
              key={key}
              type="button"
              className="press text-xs"
              aria-pressed={isTold === key}
              onClick={() => setTold(key)}
            >
              {name}
            </button>
          ))}
        </span>
      </div>
      {isTold === "connections" ? (
        <Connections narrowing={narrowing} measure={measure} />
      ) : (
        <div className="min-h-0 flex-1 overflow-auto p-2">
          <ChartGrid isWide={wide !== undefined} back={() => setWide(undefined)}>
            {data.charts.map((chart) => (
              <BarChart
                key={chart.by}
                title={CHARTS.find(([by]) => by === chart.by)?.[1] ?? chart.by}
                chart={chart}
                measure={measure}
                chosen={chosen(chart.by)}
                toggle={(value) => toggle(chart.by, value)}
                label={label(chart.by)}
                table={trafficTable(openRulebase.id, chart.by, narrowing)}
                more={() => setWide(chart.by)}
              />
            ))}
          </ChartGrid>
        </div>
      )}
    </>
  );
}

const split = (one: string): [string, string] => {
  const colon = one.indexOf(":");
  return [one.slice(0, colon), one.slice(colon + 1)];
};
