import { useQuery } from "@tanstack/react-query";
import { useMemo } from "react";
import { api, type ReachCell } from "../api/client";
import type { Between } from "../reach/useBetween";
import { useOpenRulebase } from "../session/contexts";

/** How each application of the catalogue stands for anybody identified, by name; empty until it is worked out. */
export function useStanding({ from, to }: Between): Map<string, ReachCell> {
  const openRulebase = useOpenRulebase();
  const reach = useQuery({
    queryKey: ["reach", openRulebase.id, openRulebase.state, "catalogue", from, to],
    queryFn: () => api.reach(openRulebase.id, ["identified"], [], from ? [from] : [], to ? [to] : []),
    enabled: openRulebase.rulebase !== undefined,
    placeholderData: (before) => before,
  });
  const told = reach.data;
  return useMemo(() => new Map(told?.applications.map((name, i) => [name, told.rows[0][i]])), [told]);
}
