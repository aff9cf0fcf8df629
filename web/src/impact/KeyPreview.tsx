import { written } from "../base/shortcuts";
import { useSettled } from "../base/useSettled";
import { calledIn } from "../rules/order";
import type { Commands } from "../session/commands";
import { useOpenRulebase } from "../session/contexts";
import { useSelected } from "../session/selection";
import { stepsOf } from "../session/useSent";
import { ImpactPreview } from "./ImpactPreview";

type Props = {
  can: Commands;
  /** How many rules are chosen; the keys work on all of them. */
  chosen: number;
  close: () => void;
};

/** Longer than a key takes to be repeated. */
const RESTING = 150;

/** What each key that edits at once would do to the selected line, before one of them is pressed. */
export function KeyPreview({ can, chosen, close }: Props) {
  const openRulebase = useOpenRulebase();
  const selected = useSelected();
  const rested = useSettled(selected, RESTING) === selected;
  const { rulebase } = openRulebase;
  return (
    <section
      aria-label="What the keys would do"
      className="flex shrink-0 gap-3 border-edge border-b bg-paper px-3 py-1.5"
    >
      <div className="min-w-0 flex-1 text-xs">
        <p className="font-medium">
          {!can.moveUp.edit
            ? "Select a rule to see what the keys would do to it."
            : `What the keys would do to ${
                chosen > 0 ? `the ${chosen} chosen rules` : rulebase && calledIn(rulebase, selected ?? "")
              }`}
        </p>
        <ul className="grid grid-cols-[auto_minmax(0,1fr)] gap-x-2">
          {(Object.keys(can) as (keyof Commands)[]).map((name) => {
            const { label, edit } = can[name];
            return (
              <li key={label} className="contents">
                <span className="text-right">
                  <span className="key">{written(name)}</span>
                </span>
                {rested && rulebase && edit ? (
                  <ImpactPreview label={label} asked={stepsOf(edit, rulebase)} />
                ) : (
                  <span className="text-faint">{label}</span>
                )}
              </li>
            );
          })}
        </ul>
      </div>
      <button type="button" className="press self-start text-xs" onClick={close}>
        Close
      </button>
    </section>
  );
}
