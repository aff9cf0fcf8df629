import { useQuery } from "@tanstack/react-query";
import { ApiError, api, type Fall } from "../api/client";
import { useAnswers, useOpenRulebase } from "../session/contexts";

/** Whether what is in force does the same with a probe as the draft; nothing while the two are the same. */
export function InForceAnswer({ fall }: { fall: Fall }) {
  const { id, state, named, byId } = useOpenRulebase();
  const { inForce } = useAnswers();
  const differs = inForce !== undefined && inForce.count > 0;
  const { data, error } = useQuery({
    queryKey: ["probe-in-force", id, state, inForce?.release.number, fall.text],
    queryFn: () => api.probeInForce(id, fall.text),
    enabled: differs,
    retry: false,
  });
  if (!differs || (!data && !error)) return null;
  const release = `release ${data?.release ?? inForce.release.number}`;
  const there = data?.fall;
  return (
    <p
      role="note"
      aria-label="In force"
      className={`mt-1 pl-16 text-xs ${data?.same ? "text-dim" : "font-medium text-madder"}`}
    >
      {error &&
        `It cannot be asked of ${release}: ${error instanceof ApiError ? error.problem.detail : error.message}`}
      {data?.same && `In force (${release}) it is decided the same, by the same rule.`}
      {data &&
        there &&
        !data.same &&
        `In force (${release}) it is otherwise: ${there.outcome}, by ${byRule(there.caughtBy)}${data.gateways.length > 0 ? `, on ${data.gateways.join(", ")}` : ""}.`}
    </p>
  );

  function byRule(rule: string) {
    if (rule === "" || byId.has(rule)) return named(rule);
    const gone = inForce?.gone.find((one) => one.id === rule);
    return `a rule that the draft has no more${gone?.name ? ` (${gone.name})` : ""}`;
  }
}
