import { focusOnOpen } from "../base/focusOnOpen";
import { ImpactStrip } from "../impact/ImpactStrip";
import type { Command } from "../session/commands";
import { showProbe, useOpenRulebase } from "../session/contexts";
import { stepsOf } from "../session/useSent";

type Props = {
  /** What is meant for the rules that are chosen. */
  command: Command;
  apply: () => void;
  leave: () => void;
};

/** What a key would do to many rules at once, before it does: one press more than for a single rule. */
export function BulkStrip({ command, apply, leave }: Props) {
  const openRulebase = useOpenRulebase();
  const { rulebase } = openRulebase;
  return (
    <section
      aria-label={`${command.label}?`}
      className="flex max-h-44 shrink-0 gap-3 overflow-y-auto border-rust border-y-2 bg-paper px-3 py-1.5"
      onKeyDown={(event) => {
        if (event.key !== "Escape") return;
        event.preventDefault();
        leave();
      }}
    >
      <div className="min-w-0 flex-1">
        <p className="font-medium text-xs">{command.label}?</p>
        {rulebase && command.edit && (
          <ImpactStrip
            rulebase={openRulebase.id}
            revision={rulebase.revision}
            steps={stepsOf(command.edit, rulebase)}
            named={openRulebase.named}
            drop={showProbe}
          />
        )}
      </div>
      <span className="flex items-start gap-1">
        <button ref={focusOnOpen} type="button" className="press press-main text-xs" onClick={apply}>
          Apply
        </button>
        <button type="button" className="press text-xs" title="Escape" onClick={leave}>
          Cancel
        </button>
      </span>
    </section>
  );
}
