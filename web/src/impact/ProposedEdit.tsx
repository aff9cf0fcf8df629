import type { Step } from "../api/client";
import { focusStack } from "../base/focusStack";
import type { Session } from "../session/useSession";
import { ImpactStrip } from "./ImpactStrip";

type Props = {
  session: Pick<Session, "id" | "rulebase" | "named" | "probe" | "make">;
  steps: Step[];
  /** What the journal says of it. */
  what: string;
  /** What the button says. */
  label: string;
};

/** An edit with its impact, and the button that makes it. */
export function ProposedEdit({ session, steps, what, label }: Props) {
  return (
    <div className="mt-1 rounded border border-paper-edge bg-paper p-2">
      <ImpactStrip
        rulebase={session.id}
        revision={session.rulebase?.revision ?? 0}
        steps={steps}
        named={session.named}
        drop={session.probe}
      />
      <button
        type="button"
        className="press press-main mt-1.5 text-xs"
        onClick={() => {
          session.make({ what, steps });
          focusStack();
        }}
      >
        {label}
      </button>
    </div>
  );
}
