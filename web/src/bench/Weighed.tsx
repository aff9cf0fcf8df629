import { ApiError } from "../api/client";
import { inShort } from "./ImpactText";
import type { BenchState } from "./useBench";
import { useImpact } from "./useImpact";
import type { Meant } from "./useWeighing";

type Props = Meant & { bench: Pick<BenchState, "id" | "rulebase"> };

/** What something would do, in a few words, while somebody is about to do it. */
export function Weighed({ bench, label, asked }: Props) {
  const { data, error, isPlaceholderData } = useImpact(bench.id, bench.rulebase?.revision, asked);
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
      {error instanceof ApiError && `${label}: not possible, ${error.problem.detail}`}
    </span>
  );
}
