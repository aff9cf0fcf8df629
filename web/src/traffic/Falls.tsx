import { useQuery } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { api, type Count, type Hits, type Measure } from "../api/client";
import { goTo } from "../base/address";
import { Caught } from "../lens/Caught";
import { rules } from "../rules/order";
import { Plate } from "../rules/Plate";
import { type OpenRulebase, useOpenRulebase } from "../session/contexts";
import { words } from "./units";

/** A rule, the default verdict, or a run of rules that caught nothing. */
type Row = {
  key: string;
  id?: string;
  number?: number;
  name: string;
  verdict: string;
  count?: Count;
  caught: number;
  /** How much arrives here from above. */
  arrives: number;
  empty?: number;
};

const RIVER = 220;
const ROW = 30;
const EMPTY_ROW = 14;
/** More rows would be no picture any more, and take long to draw. */
const MOST_ROWS = 200;
/** Rows with so little of it still have a branch that can be seen. */
const THINNEST = 1.5;

/**
 * How all recorded traffic falls through the rules: a stream as wide as what still falls, from which each rule takes
 * what it catches. Rules that caught nothing are drawn together, so ten thousand rules are read like sixty.
 */
export function Falls({ hits, measure }: { hits: Hits; measure: Measure }) {
  const openRulebase = useOpenRulebase();
  const [open, setOpen] = useState<string>();
  const [step, setStep] = useState<number>();
  const replay = useQuery({
    queryKey: ["replay", openRulebase.id, hits.state],
    queryFn: () => api.replay(openRulebase.id),
    enabled: step !== undefined,
  });
  const steps = replay.data;
  useEffect(() => {
    if (step === undefined || !steps) return;
    const timer = setTimeout(() => setStep(step + 1 < steps.length ? step + 1 : undefined), 260);
    return () => clearTimeout(timer);
  }, [step, steps]);
  const shown = step !== undefined && steps ? steps[step] : undefined;
  const rows = rowsOf(openRulebase, hits, measure, shown?.rules);
  const whole = Math.max(1, rows[0]?.arrives ?? 1);
  const width = (size: number) => (size / whole) * (RIVER - 30);
  return (
    <div className="min-h-0 flex-1 overflow-auto">
      <p className="flex items-center gap-2 border-edge border-b bg-plate px-3 py-1 text-xs">
        {shown ? (
          <b>{shown.from.replace("T", " ")}</b>
        ) : (
          <span>{words(whole, measure)} fall from the top; each rule takes what it catches.</span>
        )}
        {hits.depending > 0 && (
          <span className="text-ochre">
            {hits.depending.toLocaleString("en")} more may fall on several rules: too little is said of them.
          </span>
        )}
        <button
          type="button"
          className="press ml-auto text-xs"
          onClick={() => setStep(step === undefined ? 0 : undefined)}
        >
          {step === undefined ? "Replay over time" : "Stop the replay"}
        </button>
      </p>
      <ul aria-label="What fell where" className={shown ? "replaying" : ""}>
        {rows.map((row) =>
          row.empty ? (
            <li key={row.key} className="flex items-center" style={{ height: EMPTY_ROW }}>
              <Stream
                arrives={width(row.arrives)}
                caught={width(row.caught)}
                height={EMPTY_ROW}
                verdict="together"
              />
              <span className="pl-2 text-dim text-xs">
                {row.empty === 1 ? `rule ${row.number}` : `${row.empty} rules`} caught{" "}
                {row.caught === 0 ? "none" : words(row.caught, measure)}
              </span>
            </li>
          ) : (
            <li key={row.key} className="border-edge border-b border-dotted">
              <button
                type="button"
                aria-expanded={open === row.key}
                onClick={() => setOpen(open === row.key ? undefined : row.key)}
                className="grid w-full items-center gap-2 pr-3 text-left hover:bg-paper"
                style={{
                  gridTemplateColumns: `${RIVER}px 36px minmax(0,1fr) 82px 90px 84px`,
                  height: ROW,
                }}
              >
                <Stream
                  arrives={width(row.arrives)}
                  caught={width(row.caught)}
                  height={ROW}
                  verdict={row.verdict}
                />
                <span className="text-right text-dim">{row.number}</span>
                <span className="truncate">{row.name}</span>
                <Plate verdict={row.verdict} />
                <span className="text-right">{row.caught === 0 ? "none" : words(row.caught, measure)}</span>
                <span className="text-right text-dim text-xs">{row.count?.last.slice(0, 10)}</span>
              </button>
              {open === row.key && (
                <div className="border-edge border-t border-dashed bg-ground px-3 py-1">
                  <Caught
                    rule={row.id}
                    most={12}
                    drop={(probe) => goTo({ page: "rulebase", rule: undefined, find: undefined, probe })}
                  />
                  {row.id && (
                    <button
                      type="button"
                      className="press my-1 text-xs"
                      onClick={() => goTo({ page: "rulebase", find: undefined, rule: row.id })}
                    >
                      Show the rule
                    </button>
                  )}
                </div>
              )}
            </li>
          ),
        )}
      </ul>
    </div>
  );
}

const COLOURS: Record<string, string> = {
  allow: "var(--teal)",
  deny: "var(--madder)",
  reject: "var(--madder)",
};

type StreamProps = { arrives: number; caught: number; height: number; verdict: string };

/** One reach of the stream: what goes on falls, and what is caught leaves it to the side. */
function Stream({ arrives, caught, height, verdict }: StreamProps) {
  const left = 12;
  const rest = Math.max(0, arrives - caught);
  const middle = height / 2;
  const branch = caught > 0 ? Math.max(THINNEST, caught) : 0;
  const thick = Math.min(branch, height - 6);
  const word = verdict.split(" ")[0];
  return (
    <svg width={RIVER} height={height} aria-hidden="true" className="shrink-0">
      <path
        d={`M${left},0 H${left + arrives} C${left + arrives},${middle} ${left + rest},${middle} ${left + rest},${height} H${left} Z`}
        fill="var(--dim)"
        opacity="0.28"
      />
      {caught > 0 && (
        <path
          className="branch"
          d={`M${left + rest},0 H${left + rest + branch} C${left + rest + branch},${middle - thick / 2} ${left + rest + branch + 8},${middle - thick / 2} ${RIVER},${middle - thick / 2} V${middle + thick / 2} C${left + rest + 4},${middle + thick / 2} ${left + rest},${middle} ${left + rest},0 Z`}
          fill={COLOURS[word] ?? "var(--ochre)"}
          opacity="0.75"
        />
      )}
      {rest > 0 && <line className="falling" x1={left + rest / 2} x2={left + rest / 2} y1="0" y2={height} />}
    </svg>
  );
}

function rowsOf(
  openRulebase: OpenRulebase,
  hits: Hits,
  measure: Measure,
  only?: Record<string, number>,
): Row[] {
  const size = (count?: Count) => (count ? (measure === "bytes" ? count.bytes : count.times) : 0);
  const all: Omit<Row, "arrives">[] = (openRulebase.rulebase ? rules(openRulebase.rulebase) : [])
    .filter((rule) => rule.state === "on")
    .map((rule) => ({
      key: rule.id,
      id: rule.id,
      number: rule.number,
      name: rule.name || "unnamed rule",
      verdict: rule.verdict,
      count: hits.rules[rule.id],
      caught: only ? (only[rule.id] ?? 0) : size(hits.rules[rule.id]),
    }));
  all.push({
    key: "default verdict",
    name: "Default verdict",
    verdict: openRulebase.rulebase?.defaultVerdict ?? "deny",
    count: hits.defaultVerdict,
    caught: only ? (only["default verdict"] ?? 0) : size(hits.defaultVerdict),
  });
  let arrives = all.reduce((sum, row) => sum + row.caught, 0);
  // Of very many rules those that catch the most have a row of their own; what lies between is drawn together.
  const least = all.map((row) => size(row.count)).sort((a, b) => b - a)[MOST_ROWS] ?? 0;
  const rows: Row[] = [];
  for (const row of all) {
    const before = rows[rows.length - 1];
    // A rule that catches something at another time keeps its row in a replay.
    const isSmall = row.id !== undefined && size(row.count) <= least;
    if (isSmall && before?.empty) {
      before.empty++;
      before.caught += row.caught;
    } else rows.push({ ...row, arrives, empty: isSmall ? 1 : undefined });
    arrives -= row.caught;
  }
  return rows;
}
