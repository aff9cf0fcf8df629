import type { Step } from "../api/client";
import { focusStack } from "../base/focusStack";
import { showProbe, useEditing, useOpenRulebase } from "../session/contexts";
import { ImpactStrip } from "./ImpactStrip";

type Props = {
  steps: Step[];
  /** What the journal says of it. */
  what: string;
  /** What the button says. */
  label: string;
};

/** An edit with its impact, and the button that makes it. */
export function ProposedEdit({ steps, what, label }: Props) {
  const openRulebase = useOpenRulebase();
  const edits = useEditing();
  return (
    <div className="mt-1 rounded border border-paper-edge bg-paper p-2">
      <ImpactStrip
        rulebase={openRulebase.id}
        revision={openRulebase.rulebase?.revision ?? 0}
        steps={steps}
        named={openRulebase.named}
        drop={showProbe}
      />
      <button
        type="button"
        className="press press-main mt-1.5 text-xs"
        onClick={() => {
          edits.make({ what, steps });
          focusStack();
        }}
      >
        {label}
      </button>
    </div>
  );
}
