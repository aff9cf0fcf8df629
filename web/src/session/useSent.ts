import { useMemo, useState } from "react";
import type { Edited, Rulebase, Step } from "../api/client";
import { optimisticUpdate } from "./optimisticUpdate";

/**
 * An edit. Steps that depend on the order of rules are worked out when their turn comes, after the edits before them
 * are in. `revision` is the one the editor saw; where it is left out, the newest known then.
 */
export type Edit = {
  what: string | ((rulebase: Rulebase) => string);
  steps: Step[] | ((rulebase: Rulebase) => Step[]);
  revision?: number;
};

/** An edit of a rulebase that is on its way; `kept` is the revision it has become. */
type Sent = { to: string; edit: Edit; kept?: number };

/** The steps of an edit, made on this rulebase. */
export function stepsOf({ steps }: Edit, rulebase: Rulebase): Step[] {
  return typeof steps === "function" ? steps(rulebase) : steps;
}

/** The edits that are on their way, and the rulebase with them: nobody waits to see what a key did. */
export function useSent(rulebase: Rulebase | undefined) {
  const [sent, setSent] = useState<Sent[]>([]);
  const ahead = useMemo(
    () => (rulebase ? sent.filter((one) => isAhead(one, rulebase)) : []),
    [rulebase, sent],
  );
  const shown = useMemo(() => rulebase && ahead.reduce(after, rulebase), [rulebase, ahead]);
  return {
    shown,
    /** Whether something has been done that the server has yet to keep. */
    keeping: ahead.length > 0,
    /** Shows an edit of a rulebase until the server has answered. */
    show: (to: string, edit: Edit, answer: Promise<Edited>) => {
      const one: Sent = { to, edit };
      setSent((all) => [...all.filter((other) => rulebase && isAhead(other, rulebase)), one]);
      // One that is kept goes only when the rulebase with it is there, or what it did would be gone in between.
      answer.then(
        ({ revision: kept }) =>
          setSent((all) => all.map((other) => (other === one ? { ...one, kept } : other))),
        () => setSent((all) => all.filter((other) => other !== one)),
      );
    },
  };
}

/** Whether a rulebase does not have an edit yet. */
function isAhead({ to, kept }: Sent, rulebase: Rulebase): boolean {
  return to === rulebase.id && (kept === undefined || kept > rulebase.revision);
}

function after(rulebase: Rulebase, { edit }: Sent): Rulebase {
  return optimisticUpdate(rulebase, stepsOf(edit, rulebase));
}
