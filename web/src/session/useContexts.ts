import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useCallback, useEffect, useMemo, useState } from "react";
import { api, type Hits, type JournalEntry, type Rulebase, type StepOf } from "../api/client";
import { goTo, isBeside, useAddressPart } from "../base/address";
import { POLLING_INTERVAL } from "../base/pollingInterval";
import { useStableCallback } from "../base/useStableCallback";
import { useStableObject } from "../base/useStableObject";
import { applied } from "../rules/known";
import { rules } from "../rules/order";
import type { Contexts, Told } from "./contexts";
import { useEdits } from "./useEdits";
import { useImpactPreview } from "./useImpactPreview";
import { type Done, isStopped, useRulebaseQueries } from "./useRulebaseQueries";
import { type Edit, stepsOf } from "./useSent";

/**
 * Opens the rulebase that the address names, or the first there is: what the server has of it (queries) and what can be
 * done with it (edits); and beside it what the person at it is told of what goes on. What is selected is asked for by
 * what shows it; see selection.
 */
export function useContexts(who: string): Contexts & { told: Told } {
  const client = useQueryClient();
  const base = useAddressPart("base");
  const page = useAddressPart("page");
  const heads = useQuery({ queryKey: ["heads"], queryFn: api.heads, refetchInterval: POLLING_INTERVAL });
  const first = heads.data?.find((head) => head.standing === "active");
  const id = base ?? first?.id ?? "";
  // What stands in the address bar can be sent to somebody whose first rulebase is another.
  const unnamed = base === undefined && !isBeside(page) ? first?.id : undefined;
  useEffect(() => {
    if (unnamed) goTo({ base: unnamed });
  }, [unnamed]);
  const [said, say] = useState("");
  const [done, setDone] = useState<Done>();
  const queries = useRulebaseQueries(id, who, done, heads.data);
  const edits = useEdits({ id, who, queries, say, setDone });
  const { meant, intend, on } = useImpactPreview();
  const { head, revision, state, paused, review } = queries;
  const { isWaiting } = edits;

  useEffect(() => {
    // Heads that were asked for before an edit of one's own know less than the page does.
    const old = !head || revision === undefined || head.revision < revision || isWaiting();
    if (old || head.state === state) return;
    const all = () => client.invalidateQueries({ queryKey: ["rulebase"] });
    api.changes(id, who, revision).then(({ entries, edited }) => {
      const others = entries.filter((entry) => entry.who !== who);
      if (others.length > 0) say(since(others));
      const known = client.getQueryData<Rulebase>(["rulebase", id, who]);
      const next = known && edited && applied(known, edited);
      if (next) client.setQueryData(["rulebase", id, who], next);
      else all();
    }, all);
  }, [head, revision, state, who, client, id, isWaiting]);

  useEffect(() => {
    if (paused !== undefined) client.invalidateQueries({ queryKey: ["journal"] });
  }, [paused, client]);

  const { shown: rulebase } = edits;
  const make = useStableCallback((edit: Edit | undefined) => {
    intend(undefined);
    if (edit && rulebase && stepsOf(edit, rulebase).length > 0) edits.send(edit).catch(() => undefined);
  });
  const stepsNow = useStableCallback((edit: Edit) => (rulebase ? stepsOf(edit, rulebase) : []));
  const edited = useStableObject({
    /** Makes an edit at once, unless there is nothing to it; a refusal is said beside the work. */
    make,
    /** For a button that makes an edit at once: it is weighed while a pointer or a key is on the button. */
    making: useStableCallback((label: string, edit: Edit | undefined) => ({
      ...on(label, edit && (() => stepsNow(edit))),
      disabled: !edit,
      onClick: () => make(edit),
    })),
    /** What somebody is about to do, to be weighed before they do it. */
    intend,
    /** For a button that does something else at once. */
    weighing: on,
    say,
    edit: useStableCallback(edits.send),
    loadPromises: useStableCallback(edits.loadPromises),
    /** The steps that would add rules that came as text, in their order and without a place. */
    pasted: useStableCallback(async (text: string): Promise<StepOf<"ADD_RULE">[]> => {
      const patches = await api.pasted(id, text).catch((error) => {
        say(`This cannot be pasted: ${error.message}`);
        throw error;
      });
      return patches.map((rule) => ({ op: "ADD_RULE", rule }));
    }),
    takeBack: useStableCallback(edits.takeBack),
    /** Makes an older revision current again, as an edit of its own. */
    restore: useStableCallback(edits.restore),
  });
  const byId = useMemo(
    () => new Map(rulebase ? rules(rulebase).map((rule) => [rule.id, rule]) : []),
    [rulebase],
  );
  const openRulebase = useStableObject({
    id,
    who,
    rulebase,
    byId,
    named: useCallback(
      (rule: string): string => {
        const known = byId.get(rule);
        if (known) return `rule ${known.number} ${known.name}`.trim();
        return rule ? "the new rule" : "the default verdict";
      },
      [byId],
    ),
    number: useCallback((rule: string) => byId.get(rule)?.number, [byId]),
    state,
    heads: queries.heads,
    isNothingThere: heads.data !== undefined && id === "",
    error: queries.rulebase.error,
  });
  const answers = useStableObject({
    review: review.data,
    fall: queries.fall,
    probeError: queries.probeError,
    promises: queries.promises,
    /** What the rulebase catches of the recorded traffic. */
    hits: queries.hits,
    inForce: queries.inForce,
    stopReview: useStableCallback(() => api.stopReview(id).catch(() => undefined)),
    reviewAnew: useStableCallback(queries.reviewAnew),
    /** After a tape has come or gone: what is said of the rules may change with it. */
    retaped: useStableCallback((now: Hits) => {
      client.setQueryData(["hits", id, now.state], now);
      client.invalidateQueries({ queryKey: ["rulebase"] });
      client.invalidateQueries({ queryKey: ["heads"] });
    }),
    /** Sets how many steps each question of the review may take, and asks it again. */
    allowSteps: useStableCallback((steps: number) =>
      api
        .allowSteps(id, steps)
        .then(() => client.invalidateQueries({ queryKey: ["rulebase"] }))
        .catch((error) => say(error.message)),
    ),
  });
  const told: Told = {
    said,
    keeping: edits.keeping,
    reviewing: review.isFetching,
    reviewStopped: isStopped(review.error),
    did: queries.did,
    doneEdits: done?.id === id ? done.revision - done.since : 0,
    meant,
  };
  return { openRulebase, answers, edits: edited, told };
}

/** What others did since, in words. */
export function since(entries: JournalEntry[]): string {
  return entries.map((entry) => `${entry.who} ${entry.what}`).join(" · ");
}
