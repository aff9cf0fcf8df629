import { useQueryClient } from "@tanstack/react-query";
import { useCallback, useRef } from "react";
import { ApiError, api, type Edited, type Rulebase } from "../api/client";
import { applied, inNames } from "../rules/known";
import type { Done, useRulebaseQueries } from "./useRulebaseQueries";
import { type Edit, stepsOf, useSent } from "./useSent";

/** As many edits are told together as the server has at hand; for more it would have to review what was long ago. */
const MOST_TOGETHER = 10;

type Props = {
  id: string;
  who: string;
  queries: ReturnType<typeof useRulebaseQueries>;
  say: (words: string) => void;
  setDone: (next: (before?: Done) => Done) => void;
};

/**
 * What is done to the open rulebase: edits are sent one after the other, shown before the server has kept them, and what
 * the server says of each takes its place in what is known.
 */
export function useEdits({ id, who, queries, say, setDone }: Props) {
  const client = useQueryClient();
  const queue = useRef<Promise<unknown>>(Promise.resolve());
  const waiting = useRef(0);
  const sent = useSent(queries.rulebase.data);

  // What an editor did themselves while something they opened stood open is nothing they did not know of.
  const own = useRef(new Map<string, number>());
  const seen = (revision: number): number => {
    const next = own.current.get(`${id} ${revision}`);
    return next === undefined ? revision : seen(next);
  };
  const current = (): Rulebase => {
    const known = client.getQueryData<Rulebase>(["rulebase", id, who]);
    if (!known) throw new Error("the rulebase is not loaded yet");
    return known;
  };
  const accept = (edited: Edited) => {
    if (edited.since === edited.revision) {
      // An edition was taken back: no rulebase says anything else, but all of them are read anew.
      say(edited.entry.what);
      client.invalidateQueries();
      return;
    }
    own.current.set(`${id} ${edited.since}`, edited.revision);
    const next = applied(current(), edited);
    if (next) {
      // Asked for before the stack is drawn anew, which takes as long.
      client.prefetchQuery(queries.reviewOf(next.state));
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
    say(edited.entry.what);
  };
  const isWaiting = useCallback(() => waiting.current > 0, []);
  /** One at a time, so that keys pressed quickly do not overtake each other. */
  const inTurn = (work: () => Promise<Edited>): Promise<Edited> => {
    // What need not wait is sent before the stack is drawn with it.
    const answer = waiting.current === 0 ? (async () => work())() : queue.current.then(work);
    const turn = answer.catch((error) => {
      if (!(error instanceof ApiError)) throw error;
      const detail = inNames(error.problem.detail, queries.rulebase.data);
      throw new ApiError({ ...error.problem, detail });
    });
    waiting.current++;
    queue.current = turn
      .then(accept, (error) => {
        say(error.message);
        // What was cancelled may have been saved just before.
        if (error instanceof ApiError && error.problem.type.endsWith("/cancelled"))
          client.invalidateQueries();
      })
      .finally(() => {
        waiting.current--;
      });
    return turn;
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
  return {
    /** The rulebase with what has been sent and not been kept yet. */
    shown: sent.shown,
    /** Whether something has been done that the server has yet to keep. */
    keeping: sent.keeping,
    /** Whether an edit is on its way. */
    isWaiting,
    send,
    loadPromises: (csv: string) => inTurn(() => api.loadPromises(id, who, current().revision, csv)),
    takeBack: (which: "undo" | "redo") =>
      inTurn(() => api.takeBack(id, who, which, current().revision)).catch(() => undefined),
    /** Makes an older revision current again, as an edit of its own. */
    restore: (old: number) => inTurn(() => api.restore(id, who, current().revision, old)),
  };
}
