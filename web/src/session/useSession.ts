import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect, useMemo, useRef, useState } from "react";
import {
  ApiError,
  api,
  type Edited,
  type Hits,
  type JournalEntry,
  type Review,
  type Rulebase,
  type StepOf,
} from "../api/client";
import { goTo, useAddress } from "../app/address";
import { useImpactPreview } from "../impact/useImpactPreview";
import { rules } from "../stack/order";
import { applied, later } from "./known";
import { type Edit, stepsOf, useSent } from "./useSent";
import { useSettled } from "./useSettled";

const FIRST = "main-gateway";

/** After so many milliseconds without another edit, what else is shown of the rulebase is asked for, and then what the edit did. */
const PAUSED = 250;
const RESTED = 400;
/** As many edits are told together as the server has at hand; for more it would have to review what was long ago. */
const MOST_TOGETHER = 10;

/**
 * The open rulebase: what the server has of it, what is being done to it, and what went wrong. Asks the
 * server every few seconds whether somebody else has made a newer revision.
 */
export function useSession(who: string) {
  const client = useQueryClient();
  const address = useAddress();
  const id = address.base ?? FIRST;
  const [said, setSaid] = useState("");
  const [done, setDone] = useState<{ id: string; since: number; revision: number }>();
  const anew = useRef(false);
  const reviewed = useRef<{ id: string; review: Review }>(undefined);
  const rulebase = useQuery({
    queryKey: ["rulebase", id, who],
    queryFn: () => api.rulebase(id, who),
    // What stays the same in it stays the same object by itself; see applied().
    structuralSharing: false,
  });
  const revision = rulebase.data?.revision;
  const state = rulebase.data?.state;
  const reviewOf = (state?: string) => ({
    queryKey: ["review", id, state],
    queryFn: async () => {
      const before = reviewed.current?.id === id ? reviewed.current.review : undefined;
      const review = later(before, await api.review(id, before?.state, anew.current));
      anew.current = false;
      reviewed.current = { id, review };
      return review;
    },
    // One that somebody has stopped is not begun again by itself.
    retry: (failures: number, error: Error) => failures < 1 && !isStopped(error),
    structuralSharing: false,
  });
  const review = useQuery({
    ...reviewOf(state),
    enabled: state !== undefined,
    placeholderData: (before: Review | undefined) => before,
  });
  const fall = useQuery({
    queryKey: ["fall", id, state, address.probe],
    queryFn: () => api.probe(id, address.probe ?? ""),
    enabled: revision !== undefined && !!address.probe,
    retry: false,
    // The same probe beside another state; what another probe did is nothing to do with this one.
    placeholderData: (before, query) => (query?.queryKey[3] === address.probe ? before : undefined),
  });
  // The review comes before anything else; where somebody has stopped it, nothing waits for it.
  const paused = useSettled(review.isFetching ? undefined : state, PAUSED);
  const promises = useQuery({
    queryKey: ["promises", id, paused],
    queryFn: () => api.promises(id),
    enabled: paused !== undefined,
    placeholderData: (before) => before,
  });
  const hits = useQuery({
    queryKey: ["hits", id, paused],
    queryFn: () => api.hits(id),
    enabled: paused !== undefined && review.data?.state === paused,
    placeholderData: (before) => before,
  });
  // What an edit did is asked when nothing else is to be done, and not at all while others follow it.
  const rested = useSettled(review.data?.revision, RESTED);
  const did = useQuery({
    queryKey: ["between", id, done?.since, done?.revision],
    queryFn: ({ signal }) => api.between(id, done?.since ?? 0, done?.revision ?? 0, signal),
    enabled: done?.id === id && done.revision === revision && done.revision === rested,
    retry: false,
  });
  const heads = useQuery({ queryKey: ["heads"], queryFn: api.heads, refetchInterval: 2500 });
  const head = heads.data?.find((head) => head.id === id);
  const queue = useRef<Promise<unknown>>(Promise.resolve());
  const waiting = useRef(0);
  const sent = useSent(rulebase.data);
  const preview = useImpactPreview();

  useEffect(() => {
    // Heads that were asked for before an edit of one's own know less than the page does.
    const old = !head || revision === undefined || head.revision < revision || waiting.current > 0;
    if (old || head.state === state) return;
    api.journal(id).then((entries) => {
      const others = entries.filter((entry) => entry.revision > revision && entry.who !== who);
      if (others.length > 0) setSaid(others.map((entry) => `${entry.who} ${entry.what}`).join(" · "));
      client.invalidateQueries({ queryKey: ["rulebase"] });
    });
  }, [head, revision, state, who, client, id]);

  useEffect(() => {
    if (paused !== undefined) client.invalidateQueries({ queryKey: ["journal"] });
  }, [paused, client]);

  // What an editor did themselves while something they opened stood open is nothing they did not know of.
  const own = useRef(new Map<string, number>());
  const seen = (revision: number): number => {
    const next = own.current.get(`${id} ${revision}`);
    return next === undefined ? revision : seen(next);
  };
  const accept = (edited: Edited) => {
    if (edited.since === edited.revision) {
      // An edition was taken back: no rulebase says anything else, but all of them are read anew.
      setSaid(edited.entry.what);
      client.invalidateQueries();
      return;
    }
    own.current.set(`${id} ${edited.since}`, edited.revision);
    const next = applied(current(), edited);
    if (next) {
      // Asked for before the stack is drawn anew, which takes as long.
      client.prefetchQuery(reviewOf(next.state));
      client.setQueryData(["rulebase", id, who], next);
    } else client.invalidateQueries({ queryKey: ["rulebase"] });
    const { since, revision } = edited;
    setDone((before) => {
      // What follows before it was told what an edit did is told together with it.
      const untold =
        before?.id === id && !client.getQueryData(["between", id, before.since, before.revision]);
      const follows = untold && before.revision === since && revision - before.since <= MOST_TOGETHER;
      return { id, since: follows ? before.since : since, revision };
    });
    setSaid(edited.entry.what);
  };
  /** One at a time, so that keys pressed quickly do not overtake each other. */
  const inTurn = (work: () => Promise<Edited>): Promise<Edited> => {
    // What need not wait is sent before the stack is drawn with it.
    const turn = waiting.current === 0 ? (async () => work())() : queue.current.then(work);
    waiting.current++;
    queue.current = turn
      .then(accept, (error) => {
        setSaid(error.message);
        // What was cancelled may have been saved just before.
        if (error instanceof ApiError && error.problem.type.endsWith("/cancelled"))
          client.invalidateQueries();
      })
      .finally(() => {
        waiting.current--;
      });
    return turn;
  };

  const current = (): Rulebase => {
    const known = client.getQueryData<Rulebase>(["rulebase", id, who]);
    if (!known) throw new Error("the rulebase is not loaded yet");
    return known;
  };
  /** Sends an edit and rejects with an ApiError if it is refused. */
  const send = (edit: Edit) => {
    const turn = inTurn(() => {
      const now = current();
      const what = typeof edit.what === "function" ? edit.what(now) : edit.what;
      return api.edit(
        id,
        who,
        edit.revision === undefined ? now.revision : seen(edit.revision),
        what,
        stepsOf(edit, now),
      );
    });
    sent.show(id, edit, turn);
    return turn;
  };
  const { shown } = sent;
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
    did: done?.id === id && done.revision === revision ? did.data : undefined,
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
    heads: heads.data ?? [],
    rulebase: shown,
    /** Whether something has been done that the server has yet to keep. */
    keeping: sent.keeping,
    who,
    review: review.data,
    reviewing: review.isFetching,
    /** Whether somebody has stopped the review of this revision. */
    reviewStopped: isStopped(review.error),
    stopReview: () => api.stopReview(id).catch(() => undefined),
    reviewAnew: () => {
      anew.current = true;
      review.refetch();
    },
    fall: address.probe ? fall.data : undefined,
    probeError: address.probe && fall.error instanceof ApiError ? fall.error.problem : undefined,
    promises: promises.data,
    /** What the rulebase catches of the recorded traffic. */
    hits: hits.data,
    /** After a tape has come or gone: what is said of the rules may change with it. */
    retaped: (now: Hits) => {
      client.setQueryData(["hits", id, now.state], now);
      client.invalidateQueries({ queryKey: ["rulebase"] });
      client.invalidateQueries({ queryKey: ["heads"] });
    },
    error: rulebase.error,
    selected: address.rule,
    said,
    say: setSaid,
    select: (rule?: string) => goTo({ rule }),
    probe: (probe?: string) => goTo({ probe: probe || undefined }),
    edit: send,
    loadPromises: (csv: string) => inTurn(() => api.loadPromises(id, who, current().revision, csv)),
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
    takeBack: (which: "undo" | "redo") =>
      inTurn(() => api.takeBack(id, who, which, current().revision)).catch(() => undefined),
    /** Makes an older revision current again, as an edit of its own. */
    restore: (old: number) => inTurn(() => api.restore(id, who, current().revision, old)),
    /** What everything shown of the rulebase is worked out from. */
    state,
    refresh: () => client.invalidateQueries({ queryKey: ["rulebase"] }),
  };
}

function isStopped(error: unknown): boolean {
  return error instanceof ApiError && error.problem.type.endsWith("/stopped");
}

export type Session = ReturnType<typeof useSession>;

/** What others did since, in words. */
export function since(entries: JournalEntry[]): string {
  return entries.map((entry) => `${entry.who} ${entry.what}`).join(" · ");
}
