import { useState } from "react";
import type { Step } from "../api/client";
import { Either } from "../editor/Bulk";
import { ProposedEdit } from "../impact/ProposedEdit";
import type { Session } from "../session/useSession";
import { Part } from "./LensPart";

const VERDICTS = ["allow", "deny", "reject"];

type Props = { session: Pick<Session, "id" | "rulebase" | "named" | "probe" | "make"> };

/** What becomes of everything that no rule catches, and what another answer to that would change. */
export function DefaultVerdictLens({ session }: Props) {
  const now = session.rulebase?.defaultVerdict ?? "deny";
  const [wanted, setWanted] = useState(now);
  const steps: Step[] = wanted === now ? [] : [{ op: "SET_DEFAULT_VERDICT", verdict: wanted }];
  return (
    <Part title="Everything no rule catches">
      <Either label="Default verdict" options={VERDICTS} value={wanted} set={setWanted} />
      {steps.length > 0 && (
        <ProposedEdit
          session={session}
          steps={steps}
          what={`set the default verdict to ${wanted}`}
          label="Save"
        />
      )}
    </Part>
  );
}
