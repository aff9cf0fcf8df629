import { useEffect, useState } from "react";
import { useStored } from "../base/useStored";
import { isLoud, ofRule } from "../rules/known";
import { type Answers, type OpenRulebase, useAnswers, useOpenRulebase } from "../session/contexts";
import { useSelected } from "../session/selection";

type Known = Pick<OpenRulebase, "rulebase"> & Pick<Answers, "review" | "fall">;

/** One step: what to do, and whether it has been done. */
type Stop = {
  title: string;
  words: string;
  key: string;
  done: (known: Known, since: number, selected?: string) => boolean;
};

const STOPS: Stop[] = [
  {
    title: "Find what is wrong",
    words: "The review has already looked at every rule. Go to the first finding.",
    key: "f",
    done: ({ review }, _, selected = "") => ofRule(review, selected).findings.some(isLoud),
  },
  {
    title: "Try its proof",
    words: "Every finding has a witness. In the lens on the right, try it and watch it fall to its catch.",
    key: "t",
    done: ({ fall }) => fall !== undefined,
  },
  {
    title: "Mend it",
    words: "Open a remedy in the lens, read its impact, and apply it. Or edit the rule yourself and save it.",
    key: "Enter",
    done: ({ rulebase }, since) => (rulebase?.revision ?? 0) > since && !!rulebase?.undo,
  },
  {
    title: "Take it back",
    words: "Nothing is final: undo what you did. Every revision stays in the history.",
    key: "Ctrl Z",
    done: ({ rulebase }, since) => (rulebase?.revision ?? 0) > since && !!rulebase?.redo,
  },
];

/** Four steps of real work on the demo rulebase; each is over when the work is done, and it can be left at any time. */
export function Tour() {
  const openRulebase = useOpenRulebase();
  const answers = useAnswers();
  const [state, setState] = useStored("tour", "0");
  if (state === "left" || !openRulebase.rulebase || !answers.review) return null;
  return <TourStep state={state} setState={setState} />;
}

type StepProps = { state: string; setState: (state: string) => void };

function TourStep({ state, setState }: StepProps) {
  const openRulebase = useOpenRulebase();
  const answers = useAnswers();
  const [since, setSince] = useState(Number.POSITIVE_INFINITY);
  const at = Number(state);
  const stop = STOPS[at];
  const revision = openRulebase.rulebase?.revision;
  const selected = useSelected();
  const done = stop?.done({ ...openRulebase, ...answers }, since, selected) ?? false;
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
