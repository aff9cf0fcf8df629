import { useQuery } from "@tanstack/react-query";
import { api, type Step } from "../api/client";
import { inShort } from "./ImpactText";
import type { BenchState } from "./useBench";

type Props = { bench: Pick<BenchState, "id" | "rulebase">; label: string; steps: Step[] };

/** What a button would do at once, in a few words, while somebody is about to press it. */
export function Weighed({ bench, label, steps }: Props) {
  const impact = useQuery({
    queryKey: ["impact", bench.id, bench.rulebase?.revision, JSON.stringify(steps)],
    queryFn: ({ signal }) => api.impact(bench.id, steps, signal),
    enabled: steps.length > 0,
    retry: false,
  });
  return (
    <span
      role="status"
      aria-label="What it would do"
      className={`truncate text-xs ${impact.data?.broken.length ? "text-madder" : "text-dim"}`}
    >
      {impact.data && `${label}: ${inShort(impact.data, "would be")}`}
    </span>
  );
}
