import { useState } from "react";
import type { Measure, Narrowing } from "../api/client";
import { useStored } from "../base/useStored";
import { rules } from "../rules/order";
import { useAnswers, useOpenRulebase } from "../session/contexts";
import { Falls } from "./Falls";
import { Overview } from "./Overview";
import { Replayed } from "./Replayed";
import { Replays } from "./Replays";
import { Tapes } from "./Tapes";
import { Unrecognised } from "./Unrecognised";
import { Watches } from "./Watches";

const VIEWS: [string, string][] = [
  ["what", "What it is"],
  ["fall", "Where it falls"],
  ["unknown", "Not recognised"],
];

const MEASURES: Measure[] = ["connections", "bytes"];

/** Recorded traffic: what is on the network, where it falls in the rulebase as it is now, and what nobody recognised. */
export function TrafficPage() {
  const answers = useAnswers();
  const openRulebase = useOpenRulebase();
  const [view, setView] = useStored("traffic view", "what");
  const [measure, setMeasure] = useStored("traffic measure", "connections");
  const [narrowing, setNarrowing] = useState<Narrowing>({ only: [] });
  const [replay, setReplay] = useState<number>();
  const { hits } = answers;
  const { rulebase } = openRulebase;
  if (!rulebase || !hits) return <p className="p-6 text-dim">Running the tapes …</p>;
  const on = rules(rulebase).filter((rule) => rule.state === "on");
  const unused = on.filter((rule) => !hits.rules[rule.id] && !hits.possible[rule.id]).length;
  const measured = measure as Measure;
  const tapes = replay === undefined && hits.days > 0;
  return (
    <div className="sides flex min-h-0 flex-1">
      <div className="flex min-h-0 min-w-0 flex-1 flex-col">
        <div className="flex items-center gap-3 border-edge border-b bg-plate px-3 py-1.5">
          <nav aria-label="Traffic" className="flex gap-1">
            {VIEWS.map(([key, name]) => (
              <button
                key={key}
                type="button"
                aria-pressed={replay === undefined && view === key}
                className="press"
                onClick={() => {
                  setReplay(undefined);
                  setView(key);
                }}
              >
                {name}
              </button>
            ))}
          </nav>
          {tapes && (
            <p className="text-xs">
              <b>{hits.times.toLocaleString("en")}</b> connections in {hits.days} days. <b>{unused}</b> of{" "}
              {on.length} rules caught none.
              {hits.impossible > 0 && (
                <span className="text-rust">
                  {" "}
                  {hits.impossible.toLocaleString("en")} cannot be run: they name somebody or something there
                  no longer is, or their addresses lie behind other zones now.
                </span>
              )}
            </p>
          )}
          {hits.days === 0 && replay === undefined && (
            <p className="text-dim">Nothing was recorded yet. Load a capture to begin.</p>
          )}
          <span className="ml-auto flex gap-1">
            {MEASURES.map((one) => (
              <button
                key={one}
                type="button"
                className="press text-xs"
                aria-pressed={measure === one}
                onClick={() => setMeasure(one)}
              >
                {one}
              </button>
            ))}
          </span>
        </div>
        <Watches
          look={(wanted) => {
            setReplay(undefined);
            setNarrowing(wanted);
            setView("what");
          }}
        />
        {replay !== undefined && (
          <Replayed number={replay} measure={measured} close={() => setReplay(undefined)} />
        )}
        {tapes && view === "what" && (
          <Overview measure={measured} narrowing={narrowing} narrow={setNarrowing} />
        )}
        {tapes && view === "fall" && <Falls hits={hits} measure={measured} />}
        {tapes && view === "unknown" && <Unrecognised measure={measured} />}
      </div>
      <Tapes hits={hits}>
        <Replays opened={replay} open={setReplay} />
      </Tapes>
    </div>
  );
}
