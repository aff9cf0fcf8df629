import { useEffect, useState } from "react";
import { useStored } from "../base/useStored";
import { isLoud, ofRule } from "../rules/known";
import { useSelected } from "../session/selection";
import type { Session } from "../session/useSession";

/** One step: what to do, and whether it has been done. */
type Stop = {
  title: string;
  words: string;
  key: string;
  done: (session: Session, since: number, selected?: string) => boolean;
};

const STOPS: Stop[] = [
  {
    title: "Find what is wrong",
    words: "The review has already looked at every rule. Go to the first finding.",
    key: "f",
    done: (session, _, selected = "") => ofRule(session.review, selected).findings.some(isLoud),
  },
  {
    title: "Try its proof",
    words: "Every finding has a witness. In the lens on the right, try it and watch it fall to its catch.",
    key: "t",
    done: (session) => session.fall !== undefined,
  },
  {
    title: "Mend it",
    words: "Open a remedy in the lens, read its impact, and apply it. Or edit the rule yourself and save it.",
    key: "Enter",
    done: (session, since) => (session.rulebase?.revision ?? 0) > since && !!session.rulebase?.undo,
  },
  {
    title: "Take it back",
    words: "Nothing is final: undo what you did. Every revision stays in the history.",
    key: "Ctrl Z",
    done: (session, since) => (session.rulebase?.revision ?? 0) > since && !!session.rulebase?.redo,
  },
];

/** Four steps of real work on the demo rulebase; each is over when the work is done, and it can be left at any time. */
export function Tour({ session }: { session: Session }) {
  const [state, setState] = useStored("tour", "0");
  if (state === "left" || !session.rulebase || !session.review) return null;
  return <TourStep session={session} state={state} setState={setState} />;
}

type StepProps = { session: Session; state: string; setState: (state: string) => void };

function TourStep({ session, state, setState }: StepProps) {
  const [since, setSince] = useState(Number.POSITIVE_INFINITY);
  const at = Number(state);
  const stop = STOPS[at];
  const revision = session.rulebase?.revision;
  const selected = useSelected();
  const done = stop?.done(session, since, selected) ?? false;
  // What was edited before a step began does not count for it.
  useEffect(() => {
    if (at >= 0 && revision !== undefined) setSince((known) => (Number.isFinite(known) ? known : revision));
  }, [at, revision]);
  useEffect(() => {
    if (!done) return;
    setSince(revision ?? 0);
    setState(String(at + 1));
  }, [done, at, revision, setState]);
  return (
    <aside
      aria-label="Tour"
      className="flex shrink-0 items-center gap-3 border-rust border-b-2 bg-rust-wash px-3 py-1.5"
    >
      {stop ? (
        <p className="min-w-0 flex-1">
          <span className="text-dim text-xs">
            Step {at + 1} of {STOPS.length}
          </span>{" "}
          <b>{stop.title}.</b> {stop.words} <span className="key">{stop.key}</span>
        </p>
      ) : (
        <p className="min-w-0 flex-1">
          <b>That is the whole way:</b> find, prove, mend, undo. <span className="key">?</span> shows the keys
          of the place you are in.
        </p>
      )}
      {stop && (
        <button type="button" className="press text-xs" onClick={() => setState(String(at + 1))}>
          Skip this step
        </button>
      )}
      <button type="button" className="press text-xs" onClick={() => setState("left")}>
        {stop ? "Leave the tour" : "Close"}
      </button>
    </aside>
  );
}
