import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect, useRef, useState } from "react";
import { ApiError, api, type Edited, type JournalEntry, type Rulebase, type Step } from "../api/client";
import { goTo, useAddress } from "../frame/address";

export const RULEBASE = "main-gateway";

/** An edit as it is sent; `revision` is the one its maker saw, the newest known if it is left out. */
export type Edit = { what: string; steps: Step[]; revision?: number };

/**
 * The rulebase on the bench: what the server has of it, what is being done to it, and what went wrong. Asks the
 * server every few seconds whether somebody else has made a newer revision.
 */
export function useBench(who: string) {
  const client = useQueryClient();
  const address = useAddress();
  const [said, setSaid] = useState("");
  const rulebase = useQuery({
    queryKey: ["rulebase", RULEBASE, who],
    queryFn: () => api.rulebase(RULEBASE, who),
  });
  const revision = rulebase.data?.revision;
  const review = useQuery({
    queryKey: ["review", RULEBASE, revision],
    queryFn: () => api.review(RULEBASE),
    enabled: revision !== undefined,
    placeholderData: (before) => before,
  });
  const fall = useQuery({
    queryKey: ["fall", RULEBASE, revision, address.probe],
    queryFn: () => api.probe(RULEBASE, address.probe ?? ""),
    enabled: revision !== undefined && !!address.probe,
    retry: false,
    placeholderData: (before) => (address.probe ? before : undefined),
  });
  const heads = useQuery({ queryKey: ["heads"], queryFn: api.heads, refetchInterval: 2500 });
  const newest = heads.data?.find((head) => head.id === RULEBASE)?.revision;
  const saving = useRef(false);

  useEffect(() => {
    if (newest === undefined || revision === undefined || newest <= revision || saving.current) return;
    api.journal(RULEBASE).then((entries) => {
      const others = entries.filter((entry) => entry.revision > revision && entry.who !== who);
      if (others.length > 0) setSaid(others.map((entry) => `${entry.who} ${entry.what}`).join(" · "));
      client.invalidateQueries({ queryKey: ["rulebase"] });
    });
  }, [newest, revision, who, client]);

  const accept = (edited: Edited) => {
    client.setQueryData(["rulebase", RULEBASE, who], edited.rulebase);
    client.invalidateQueries({ queryKey: ["journal"] });
    setSaid(`${edited.entry.action === "edit" ? "" : `${edited.entry.action}: `}${edited.entry.what}`);
  };
  const run = useMutation({
    mutationFn: (work: () => Promise<Edited>) => {
      saving.current = true;
      return work();
    },
    onSuccess: accept,
    onError: (error) => setSaid(error.message),
    onSettled: () => {
      saving.current = false;
    },
  });

  const current = (): Rulebase => {
    const known = client.getQueryData<Rulebase>(["rulebase", RULEBASE, who]);
    if (!known) throw new Error("the rulebase is not loaded yet");
    return known;
  };
  return {
    rulebase: rulebase.data,
    review: review.data,
    reviewing: review.isFetching,
    fall: address.probe ? fall.data : undefined,
    probeError: address.probe && fall.error instanceof ApiError ? fall.error.problem : undefined,
    error: rulebase.error,
    selected: address.rule,
    said,
    say: setSaid,
    select: (rule?: string) => goTo({ rule }),
    probe: (probe?: string) => goTo({ probe: probe || undefined }),
    /** Sends an edit and rejects with an ApiError if it is refused. */
    edit: (edit: Edit) =>
      run.mutateAsync(() =>
        api.edit(RULEBASE, who, edit.revision ?? current().revision, edit.what, edit.steps),
      ),
    takeBack: (which: "undo" | "redo") =>
      run.mutateAsync(() => api.takeBack(RULEBASE, who, which, current().revision)).catch(() => undefined),
    refresh: () => client.invalidateQueries({ queryKey: ["rulebase"] }),
  };
}

export type BenchState = ReturnType<typeof useBench>;

/** What others did since, in words. */
export function since(entries: JournalEntry[]): string {
  return entries.map((entry) => `${entry.who} ${entry.what}`).join(" · ");
}
