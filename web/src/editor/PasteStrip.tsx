import type { StepOf } from "../api/client";
import { focusOnOpen } from "../base/focusOnOpen";
import { ImpactStrip } from "../impact/ImpactStrip";
import type { Place } from "../rules/order";
import { showProbe, useOpenRulebase } from "../session/contexts";

type Props = {
  /** What would add them, in the order of the rules. */
  steps: StepOf<"ADD_RULE">[];
  place: Place;
  /** Puts a single rule where it stands better. */
  onPlace: (place: Place) => void;
  keep: () => void;
  leave: () => void;
};

/** Rules that came as text, and what they would do, before they are put in their place. */
export function PasteStrip({ steps, place, onPlace, keep, leave }: Props) {
  const openRulebase = useOpenRulebase();
  const keys = (event: React.KeyboardEvent<HTMLElement>) => {
    if (event.key === "Escape") leave();
    else if (event.key === "Enter" && event.altKey)
      event.currentTarget.querySelector<HTMLButtonElement>("[data-better]")?.click();
    else return;
    event.preventDefault();
  };
  return (
    <section
      aria-label="Rules to be pasted"
      className="flex max-h-44 shrink-0 gap-3 overflow-y-auto border-rust border-y-2 bg-paper px-3 py-1.5"
      onKeyDown={keys}
    >
      <div className="min-w-0 flex-1">
        <p className="text-xs">
          <b>{steps.length === 1 ? "1 rule" : `${steps.length} rules`}</b> {where(place, openRulebase.named)}:{" "}
          {steps
            .map(({ rule }) => rule?.name || "unnamed")
            .slice(0, 6)
            .join(" · ")}
          {steps.length > 6 && ` · and ${steps.length - 6} more`}
        </p>
        <ImpactStrip
          rulebase={openRulebase.id}
          revision={openRulebase.rulebase?.revision ?? 0}
          steps={placed(steps, place)}
          named={openRulebase.named}
          drop={showProbe}
          onPlace={onPlace}
        />
      </div>
      <span className="flex items-start gap-1">
        <button ref={focusOnOpen} type="button" className="press press-main text-xs" onClick={keep}>
          Paste {steps.length === 1 ? "it" : "them"}
        </button>
        <button type="button" className="press text-xs" title="Escape" onClick={leave}>
          Leave {steps.length === 1 ? "it" : "them"} out
        </button>
      </span>
    </section>
  );
}

/** The steps that put rules into a place in their order: each goes right below the same rule, so the last one first. */
export function placed(steps: StepOf<"ADD_RULE">[], place: Place): StepOf<"ADD_RULE">[] {
  const there = steps.map((step) => ({ ...step, place }));
  return place.after === undefined ? there : there.reverse();
}

function where({ after, before }: Place, named: (rule: string) => string): string {
  if (after !== undefined) return `right below ${named(after)}`;
  return before === undefined ? "at the end of the chapter" : `right above ${named(before)}`;
}
