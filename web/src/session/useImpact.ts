import { keepPreviousData, useQuery, useQueryClient } from "@tanstack/react-query";
import { api, type Step } from "../api/client";

/** An editor's own newest edit, taken back or made again. */
export type TakeBack = { action: "undo" | "redo"; who: string };

/** What can be weighed before it is done. */
export type Asked = Step[] | TakeBack;

/** What something would change that is not done yet; nothing is asked of no steps. */
export function useImpact(rulebase: string, revision: number | undefined, asked: Asked) {
  const client = useQueryClient();
  const queryKey = ["impact", rulebase, revision, JSON.stringify(asked)];
  const impact = useQuery({
    queryKey,
    // What is no longer asked is no longer waited for.
    queryFn: ({ signal }) =>
      Array.isArray(asked)
        ? api.impact(rulebase, asked, signal)
        : api.impactOfTakingBack(rulebase, asked.who, asked.action, signal),
    enabled: revision !== undefined && (!Array.isArray(asked) || asked.length > 0),
    retry: false,
    // The same on the same revision, as long as nobody adopts another edition of the catalogue.
    staleTime: 30_000,
    // The answer before stays while the next is worked out, and is known by `isPlaceholderData`.
    placeholderData: keepPreviousData,
  });
  return { ...impact, stop: () => client.cancelQueries({ queryKey }) };
}
