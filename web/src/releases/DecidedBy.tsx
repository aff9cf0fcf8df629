import type { Decided } from "../api/client";
import { goTo } from "../base/address";
import { useAnswers, useOpenRulebase } from "../session/contexts";

/** What a gateway says that it decided, with the ways on from there: the rule, and the same connection as a probe. */
export function DecidedBy({ decided }: { decided: Decided }) {
  const { byId, named } = useOpenRulebase();
  const { inForce } = useAnswers();
  const { rule, verdict, gateway, release, probe } = decided;
  const gone = inForce?.gone.find((one) => one.id === rule);
  return (
    <span>
      {verdict
        ? `${gateway} decided by release ${release}: ${verdict} by `
        : `It ended before ${gateway} decided it.`}
      {verdict && !rule && "the default verdict."}
      {verdict && rule && byId.has(rule) && (
        <button
          type="button"
          className="text-madder underline"
          onClick={() => goTo({ page: "rulebase", rule, probe: probe || undefined })}
        >
          {named(rule)}
        </button>
      )}
      {verdict &&
        rule &&
        !byId.has(rule) &&
        `a rule that the draft has no more${gone?.name ? ` (${gone.name})` : ""}.`}{" "}
      {probe && (
        <button
          type="button"
          className="press"
          title="Where the draft lets it fall"
          onClick={() => goTo({ page: "rulebase", rule: undefined, probe })}
        >
          Run it as a probe
        </button>
      )}
    </span>
  );
}
