import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect, useMemo, useState } from "react";
import { api, type Hits, type JournalEntry, type StepOf } from "../api/client";
import { goTo, isBeside, useAddress } from "../app/address";
import { useImpactPreview } from "../impact/useImpactPreview";
import { rules } from "../stack/order";
import { useEdits } from "./useEdits";
import { type Done, isStopped, useRulebaseQueries } from "./useRulebaseQueries";
import { type Edit, stepsOf } from "./useSent";

/**
 * The open rulebase: what the server has of it (queries), what is being done to it (edits), what is selected, and what
 * the person at it was told last.
 */
export function useSession(who: string) {
  const client = useQueryClient();
  const address = useAddress();
  const heads = useQuery({ queryKey: ["heads"], queryFn: api.heads, refetchInterval: 2500 });
  const first = heads.data?.find((head) => head.standing === "active");
  const id = address.base ?? first?.id ?? "";
  // What stands in the address bar can be sent to somebody whose first rulebase is another.
  const unnamed = address.base === undefined && !isBeside(address.page) ? first?.id : undefined;
  useEffect(() => {
    if (unnamed) goTo({ base: unnamed });
  }, [unnamed]);
  const [said, setSaid] = useState("");
  const [done, setDone] = useState<Done>();
  const queries = useRulebaseQueries(id, who, done, heads.data);
  const edits = useEdits({ id, who, queries, say: setSaid, setDone });
  const preview = useImpactPreview();
  const { head, revision, state, paused, review } = queries;
  const { isWaiting } = edits;

  useEffect(() => {
    // Heads that were asked for before an edit of one's own know less than the page does.
    const old = !head || revision === undefined || head.revision < revision || isWaiting();
    if (old || head.state === state) return;
    api.journal(id).then((entries) => {
      const others = entries.filter((entry) => entry.revision > revision && entry.who !== who);
      if (others.length > 0) setSaid(others.map((entry) => `${entry.who} ${entry.what}`).join(" · "));
      client.invalidateQueries({ queryKey: ["rulebase"] });
    });
  }, [head, revision, state, who, client, id, isWaiting]);

  useEffect(() => {
    if (paused !== undefined) client.invalidateQueries({ queryKey: ["journal"] });
  }, [paused, client]);

  const { shown, send } = edits;
  /** Makes an edit at once, unless there is nothing to it; a refusal is said beside the work. */
  const make = (edit: Edit | undefined) => {
    preview.intend(undefined);
    if (edit && shown && stepsOf(edit, shown).length > 0) send(edit).catch(() => undefined);
  };
  const byId = useMemo(() => new Map(shown ? rules(shown).map((rule) => [rule.id, rule]) : []), [shown]);
  return {
    id,
    byId,
    /** What a rule is called in a sentence; nothing stands for the default verdict. */
    named: (rule: string): string => {
      const known = byId.get(rule);
      if (known) return `rule ${known.number} ${known.name}`.trim();
      return rule ? "the new rule" : "the default verdict";
    },
    /** What the edit just kept did, or several that followed each other; nothing while that is worked out. */
    did: queries.did,
    /** How many edits that was. */
    doneEdits: done?.id === id ? done.revision - done.since : 0,
    /** What somebody is about to do. */
    preview,
    make,
    /** For a button that makes an edit at once: it is weighed while a pointer or a key is on the button. */
    making: (label: string, edit: Edit | undefined) => ({
      ...preview.on(label, edit && (() => (shown ? stepsOf(edit, shown) : []))),
      disabled: !edit,
      onClick: () => make(edit),
    }),
    /** A rule's number from the top. */
    number: (rule: string) => byId.get(rule)?.number,
    heads: queries.heads,
    /** Whether the server has no rulebase to show, nor was one asked for. */
    isNothingThere: heads.data !== undefined && id === "",
    rulebase: shown,
    /** Whether something has been done that the server has yet to keep. */
    keeping: edits.keeping,
    who,
    review: review.data,
    reviewing: review.isFetching,
    /** Whether somebody has stopped the review of this revision. */
    reviewStopped: isStopped(review.error),
    stopReview: () => api.stopReview(id).catch(() => undefined),
    reviewAnew: queries.reviewAnew,
    fall: queries.fall,
    probeError: queries.probeError,
    promises: queries.promises,
    /** What the rulebase catches of the recorded traffic. */
    hits: queries.hits,
    /** After a tape has come or gone: what is said of the rules may change with it. */
    retaped: (now: Hits) => {
      client.setQueryData(["hits", id, now.state], now);
      client.invalidateQueries({ queryKey: ["rulebase"] });
      client.invalidateQueries({ queryKey: ["heads"] });
    },
    error: queries.rulebase.error,
    selected: address.rule,
    said,
    say: setSaid,
    select: (rule?: string) => goTo({ rule }),
    probe: (probe?: string) => goTo({ probe: probe || undefined }),
    edit: send,
    loadPromises: edits.loadPromises,
    /** The steps that would add rules that came as text, in their order and without a place. */
    pasted: async (text: string): Promise<StepOf<"ADD_RULE">[]> => {
      const patches = await api.pasted(id, text).catch((error) => {
        setSaid(`This cannot be pasted: ${error.message}`);
        throw error;
      });
      return patches.map((rule) => ({ op: "ADD_RULE", rule }));
    },
    /** Sets how many steps each question of the review may take, and asks it again. */
    allowSteps: (steps: number) =>
      api
        .allowSteps(id, steps)
        .then(() => client.invalidateQueries({ queryKey: ["rulebase"] }))
        .catch((error) => setSaid(error.message)),
    takeBack: edits.takeBack,
    /** Makes an older revision current again, as an edit of its own. */
    restore: edits.restore,
    /** What everything shown of the rulebase is worked out from. */
    state,
    refresh: () => client.invalidateQueries({ queryKey: ["rulebase"] }),
  };
}

export type Session = ReturnType<typeof useSession>;

/** What others did since, in words. */
export function since(entries: JournalEntry[]): string {
  return entries.map((entry) => `${entry.who} ${entry.what}`).join(" · ");
}
