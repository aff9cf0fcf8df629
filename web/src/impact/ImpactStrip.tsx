import { useEffect } from "react";
import { ApiError, type FieldError, type Step } from "../api/client";
import { useSettled } from "../base/useSettled";
import type { Place } from "../rules/order";
import { useImpact } from "../session/useImpact";
import { ImpactText } from "./ImpactText";

type Props = {
  rulebase: string;
  revision: number;
  steps: Step[];
  named: (rule: string) => string;
  /** Drops a witness of one kind. */
  drop: (probe: string) => void;
  /** Puts a rule that is being added where it stands better. */
  onPlace?: (place: Place) => void;
  /** Told what of the steps cannot be read, as often as that changes. */
  onFaults?: (faults: FieldError[]) => void;
};

const NONE: FieldError[] = [];

/** What some steps would change, worked out before they are taken: which connections, from what to what. */
export function ImpactStrip({ rulebase, revision, steps, named, drop, onPlace, onFaults }: Props) {
  const settled = useSettled(JSON.stringify(steps), 250);
  const asked: Step[] = JSON.parse(settled);
  const impact = useImpact(rulebase, revision, asked);
  const faults = (impact.error instanceof ApiError && impact.error.problem.errors) || NONE;
  useEffect(() => onFaults?.(faults), [faults, onFaults]);
  if (asked.length === 0) return <p className="text-dim text-xs">Nothing is changed yet.</p>;
  if (impact.error instanceof ApiError) {
    return (
      <p className="text-madder text-xs">
        The impact cannot be worked out:{" "}
        {faults.map((fault) => fault.message).join("; ") || impact.error.problem.detail}
      </p>
    );
  }
  if (!impact.data && impact.isFetching) {
    return (
      <p className="text-dim text-xs">
        Working out the impact …{" "}
        <button type="button" className="press text-xs" onClick={impact.stop}>
          Stop
        </button>
      </p>
    );
  }
  if (!impact.data) {
    return (
      <p className="text-dim text-xs">
        The impact was not worked out.{" "}
        <button type="button" className="press text-xs" onClick={() => impact.refetch()}>
          Work it out
        </button>
      </p>
    );
  }
  const { placement } = impact.data;
  const { side, rule } = placement ?? {};
  return (
    <ImpactText impact={impact.data} tense="would be" named={named} drop={drop}>
      {placement && onPlace && (
        <p className={side ? "font-medium text-rust" : "text-dim"} data-placement={placement.why}>
          {placement.why}{" "}
          {side && rule && (
            <button
              type="button"
              data-better
              title="Alt Enter"
              className="press press-main text-xs"
              onClick={() => onPlace(side === "above" ? { before: rule } : { after: rule })}
            >
              Put it {side} {named(rule)} <span className="key">Alt Enter</span>
            </button>
          )}
        </p>
      )}
    </ImpactText>
  );
}
