import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { api, type Measure, type Narrowing, type RecordedConnection } from "../api/client";
import { goTo } from "../base/address";
import { Plate } from "../rules/Plate";
import { type OpenRulebase, useAnswers, useOpenRulebase } from "../session/contexts";
import { bytes } from "./units";
import { WriteRule } from "./WriteRule";

const STEP = 100;
const MOST = 500;

type Props = { narrowing: Narrowing; measure: Measure };

/** The recorded connections that are looked at; from each one gets to its fall and to a rule about it. */
export function Connections({ narrowing }: Props) {
  const openRulebase = useOpenRulebase();
  const answers = useAnswers();
  const [most, setMost] = useState(STEP);
  const [open, setOpen] = useState<string>();
  const answer = useQuery({
    queryKey: ["connections", openRulebase.id, answers.hits?.state, narrowing, most],
    queryFn: () => api.connections(openRulebase.id, narrowing, most),
    placeholderData: (before) => before,
  });
  if (!answer.data) return <p className="p-6 text-dim">Looking at the tapes …</p>;
  return (
    <ul aria-label="Connections" className="min-h-0 flex-1 overflow-auto">
      {answer.data.lines.map((line) => {
        const key = `${line.tape} ${line.probe} ${line.sample ?? ""}`;
        return (
          <Line
            key={key}
            line={line}
            isOpen={open === key}
            toggle={() => setOpen(open === key ? undefined : key)}
          />
        );
      })}
      {answer.data.lines.length === 0 && <li className="p-4 text-dim">There is no such connection.</li>}
      {answer.data.more > 0 && (
        <li className="px-3 py-2 text-dim text-xs">
          … and {answer.data.more.toLocaleString("en")} more.{" "}
          {most < MOST && (
            <button type="button" className="text-rust underline" onClick={() => setMost(MOST)}>
              show more
            </button>
          )}
        </li>
      )}
    </ul>
  );
}

type LineProps = { line: RecordedConnection; isOpen: boolean; toggle: () => void };

function Line({ line, isOpen, toggle }: LineProps) {
  const openRulebase = useOpenRulebase();
  return (
    <li className="border-edge border-b bg-plate">
      <button
        type="button"
        aria-expanded={isOpen}
        onClick={toggle}
        className="grid w-full grid-cols-[52px_82px_minmax(0,1fr)_70px] items-start gap-2 px-2 py-1 text-left text-xs hover:bg-paper"
      >
        <span className="text-right font-medium">{line.times.toLocaleString("en")}×</span>
        {line.verdict === "it depends" || line.verdict === "" ? (
          <span className="text-ochre">{line.verdict || "cannot be run"}</span>
        ) : (
          <Plate verdict={line.verdict} />
        )}
        <span>
          {line.probe}
          {line.unsaid.length > 0 && <span className="text-dim"> – {line.unsaid.join(", ")} not said</span>}
        </span>
        <span className="text-right text-dim">
          {line.up + line.down > 0 ? bytes(line.up + line.down) : ""}
        </span>
      </button>
      {isOpen && (
        <div className="flex flex-col gap-1.5 border-edge border-t border-dashed bg-ground px-3 py-2 text-xs">
          <p>
            {line.rules.length === 0
              ? "It cannot be run: an address lies behind another zone now, or it names somebody who is gone."
              : line.rules.length === 1
                ? `Caught by ${rule(openRulebase, line.rules[0])}.`
                : `It depends on what is not said (${line.unsaid.join(", ")}): ${line.rules.map((id) => rule(openRulebase, id)).join(", or ")}.`}{" "}
            {line.up + line.down > 0 && `${bytes(line.up)} up, ${bytes(line.down)} down.`} On tape {line.tape}
            .
          </p>
          <div className="flex flex-wrap gap-1">
            <button
              type="button"
              className="press text-xs"
              onClick={() => goTo({ page: "rulebase", rule: undefined, find: undefined, probe: line.probe })}
            >
              Run it as a probe
            </button>
            {line.rules.length === 1 && line.rules[0] && (
              <button
                type="button"
                className="press text-xs"
                onClick={() => goTo({ page: "rulebase", find: undefined, rule: line.rules[0] })}
              >
                Show the rule
              </button>
            )}
          </div>
          <WriteRule line={line} />
        </div>
      )}
    </li>
  );
}

const rule = (openRulebase: OpenRulebase, id: string) =>
  id ? openRulebase.named(id) : "the default verdict";
