import type { Deeds } from "./deeds";
import { calledIn } from "./order";
import type { BenchState } from "./useBench";
import { stepsOf } from "./useSent";
import { useSettled } from "./useSettled";
import { Weighed } from "./Weighed";

type Props = {
  bench: Pick<BenchState, "id" | "rulebase" | "selected">;
  can: Deeds;
  /** How many rules are chosen; the keys work on all of them. */
  chosen: number;
  close: () => void;
};

/** Longer than a key takes to be repeated. */
const RESTING = 150;

/** What each key that edits at once would do to the selected line, before one of them is pressed. */
export function WouldStrip({ bench, can, chosen, close }: Props) {
  const rested = useSettled(bench.selected, RESTING) === bench.selected;
  const { rulebase } = bench;
  return (
    <section
      aria-label="What the keys would do"
      className="flex shrink-0 gap-3 border-edge border-b bg-paper px-3 py-1.5"
    >
      <div className="min-w-0 flex-1 text-xs">
        <p className="font-medium">
          {!can.up.edit
            ? "Select a rule to see what the keys would do to it."
            : `What the keys would do to ${
                chosen > 0
                  ? `the ${chosen} chosen rules`
                  : rulebase && calledIn(rulebase, bench.selected ?? "")
              }`}
        </p>
        <ul className="grid grid-cols-[auto_minmax(0,1fr)] gap-x-2">
          {Object.values(can).map(({ label, key, edit }) => (
            <li key={label} className="contents">
              <span className="text-right">
                <span className="key">{key}</span>
              </span>
              {rested && rulebase && edit ? (
                <Weighed bench={bench} label={label} asked={stepsOf(edit, rulebase)} />
              ) : (
                <span className="text-faint">{label}</span>
              )}
            </li>
          ))}
        </ul>
      </div>
      <button type="button" className="press self-start text-xs" onClick={close}>
        Close
      </button>
    </section>
  );
}
