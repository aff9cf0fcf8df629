import { useState } from "react";
import type { Step } from "../api/client";
import { Either } from "../editor/Bulk";
import { ProposedEdit } from "../impact/ProposedEdit";
import { useOpenRulebase } from "../session/contexts";
import { Part } from "./LensPart";

const VERDICTS = ["allow", "deny", "reject"];

/** What becomes of everything that no rule catches, and what another answer to that would change. */
export function DefaultVerdictLens() {
  const openRulebase = useOpenRulebase();
  const now = openRulebase.rulebase?.defaultVerdict ?? "deny";
  const [wanted, setWanted] = useState(now);
  const steps: Step[] = wanted === now ? [] : [{ op: "SET_DEFAULT_VERDICT", verdict: wanted }];
  return (
    <Part title="Everything no rule catches">
      <Either label="Default verdict" options={VERDICTS} value={wanted} set={setWanted} />
      {steps.length > 0 && (
        <ProposedEdit steps={steps} what={`set the default verdict to ${wanted}`} label="Save" />
      )}
    </Part>
  );
}
