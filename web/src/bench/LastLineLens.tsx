import { useState } from "react";
import type { Step } from "../api/client";
import { Either } from "./Bulk";
import { Part } from "./LensPart";
import { Offer } from "./Offer";
import type { BenchState } from "./useBench";

const VERDICTS = ["allow", "deny", "reject"];

type Props = { bench: Pick<BenchState, "id" | "rulebase" | "named" | "probe" | "make"> };

/** What becomes of everything that no rule catches, and what another answer to that would change. */
export function LastLineLens({ bench }: Props) {
  const now = bench.rulebase?.lastLine ?? "deny";
  const [wanted, setWanted] = useState(now);
  const steps: Step[] = wanted === now ? [] : [{ op: "SET_DEFAULT_VERDICT", verdict: wanted }];
  return (
    <Part title="Everything no rule catches">
      <Either label="Default verdict" options={VERDICTS} value={wanted} set={setWanted} />
      {steps.length > 0 && (
        <Offer bench={bench} steps={steps} what={`set the default verdict to ${wanted}`} label="Save" />
      )}
    </Part>
  );
}
