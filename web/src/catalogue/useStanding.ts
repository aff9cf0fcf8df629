import { useQuery } from "@tanstack/react-query";
import { useMemo } from "react";
import { api, type ReachCell } from "../api/client";
import type { BenchState } from "../bench/useBench";
import type { Between } from "../reach/useBetween";

/** How each application of the catalogue stands for anybody identified, by name; empty until it is worked out. */
export function useStanding(bench: BenchState, { from, to }: Between): Map<string, ReachCell> {
  const reach = useQuery({
    queryKey: ["reach", bench.id, bench.state, "catalogue", from, to],
    queryFn: () => api.reach(bench.id, ["identified"], [], from ? [from] : [], to ? [to] : []),
    enabled: bench.rulebase !== undefined,
    placeholderData: (before) => before,
  });
  const told = reach.data;
  return useMemo(() => new Map(told?.applications.map((name, i) => [name, told.rows[0][i]])), [told]);
}
