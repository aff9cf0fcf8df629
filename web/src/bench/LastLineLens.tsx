import { useState } from "react";
import type { Step } from "../api/client";
import { ImpactStrip } from "./ImpactStrip";
import { Part } from "./LensPart";
import type { BenchState } from "./useBench";

const VERDICTS = ["allow", "deny", "reject"];

type Props = { bench: Pick<BenchState, "id" | "rulebase" | "named" | "probe" | "make"> };

/** What becomes of everything that no rule catches, and what another answer to that would change. */
export function LastLineLens({ bench }: Props) {
  const now = bench.rulebase?.lastLine ?? "deny";
  const [wanted, setWanted] = useState(now);
  const steps: Step[] = wanted === now ? [] : [{ op: "SET_LAST_LINE", rule: { verdict: wanted } }];
  return (
    <Part title="Everything no rule catches">
      <fieldset className="flex gap-3">
        <legend className="sr-only">Verdict of the last line</legend>
        {VERDICTS.map((verdict) => (
          <label key={verdict} className="flex items-center gap-1">
            <input
              type="radio"
              name="last line"
              checked={wanted === verdict}
              onChange={() => setWanted(verdict)}
              className="accent-rust"
            />
            {verdict}
          </label>
        ))}
      </fieldset>
      {steps.length > 0 && (
        <div className="mt-1.5 rounded border border-paper-edge bg-paper p-2">
          <ImpactStrip
            rulebase={bench.id}
            revision={bench.rulebase?.revision ?? 0}
            steps={steps}
            named={bench.named}
            drop={bench.probe}
          />
          <button
            type="button"
            className="press press-main mt-1.5 text-xs"
            onClick={() => bench.make({ what: `set the last line to ${wanted}`, steps })}
          >
            Keep
          </button>
        </div>
      )}
    </Part>
  );
}
