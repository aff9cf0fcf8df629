import { useQuery } from "@tanstack/react-query";
import { useMemo } from "react";
import { api, type ReachCell } from "../api/client";
import type { Between } from "../reach/useBetween";
import type { Session } from "../session/useSession";

/** How each application of the catalogue stands for anybody identified, by name; empty until it is worked out. */
export function useStanding(session: Session, { from, to }: Between): Map<string, ReachCell> {
  const reach = useQuery({
    queryKey: ["reach", session.id, session.state, "catalogue", from, to],
    queryFn: () => api.reach(session.id, ["identified"], [], from ? [from] : [], to ? [to] : []),
    enabled: session.rulebase !== undefined,
    placeholderData: (before) => before,
  });
  const told = reach.data;
  return useMemo(() => new Map(told?.applications.map((name, i) => [name, told.rows[0][i]])), [told]);
}
