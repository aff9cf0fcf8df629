import { ApiError } from "../api/client";
import { inNames } from "../rules/known";
import { useOpenRulebase } from "../session/contexts";
import { useImpact } from "../session/useImpact";
import type { Meant } from "../session/useImpactPreview";
import { inShort } from "./ImpactText";

type Props = Meant & {};

/** What something would do, in a few words, while somebody is about to do it. */
export function ImpactPreview({ label, asked }: Props) {
  const openRulebase = useOpenRulebase();
  const { data, error, isPlaceholderData } = useImpact(
    openRulebase.id,
    openRulebase.rulebase?.revision,
    asked,
  );
  const impact = isPlaceholderData ? undefined : data;
  const grave = error || (impact?.broken.length ?? 0) > 0;
  return (
    <span
      role="status"
      aria-label="What it would do"
      className={`min-w-0 truncate text-xs ${grave ? "text-madder" : "text-dim"}`}
    >
      {Array.isArray(asked) && asked.length === 0 && `${label}: nothing would change`}
      {impact && `${label}: ${inShort(impact, "would be")}`}
      {error instanceof ApiError &&
        `${label}: not possible, ${inNames(error.problem.detail, openRulebase.rulebase)}`}
    </span>
  );
}
