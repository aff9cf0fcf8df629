import { type ComponentProps, type Context, createContext, type ReactNode, useContext } from "react";
import type {
  Fall,
  Head,
  Hits,
  Impact,
  InForce,
  ProblemDocument,
  PromiseCheck,
  Review,
  Rule,
  Rulebase,
  StepOf,
} from "../api/client";
import { goTo } from "../base/address";
import type { useEdits } from "./useEdits";
import type { Meant, useImpactPreview } from "./useImpactPreview";
import type { Edit } from "./useSent";

/** What is known of a rulebase as it is now. */
export type OpenRulebase = {
  /** Nothing as long as the server has none to show. */
  id: string;
  /** Who works on it. */
  who: string;
  rulebase?: Rulebase;
  byId: Map<string, Rule>;
  /** What a rule is called in a sentence; nothing stands for the default verdict. */
  named: (rule: string) => string;
  /** A rule's number from the top. */
  number: (rule: string) => number | undefined;
  /** What everything shown of the rulebase is worked out from. */
  state?: string;
  heads: Head[];
  /** Whether the server has no rulebase to show, nor was one asked for. */
  isNothingThere: boolean;
  error: Error | null;
};

/** What the server makes of it. */
export type Answers = {
  review?: Review;
  /** Where the probe falls that the address names. */
  fall?: Fall;
  probeError?: ProblemDocument;
  promises?: PromiseCheck[];
  /** What the rulebase catches of the recorded traffic. */
  hits?: Hits;
  /** What is in force, and how the draft differs from it; nothing where nothing was ever released. */
  inForce?: InForce;
  stopReview: () => Promise<unknown>;
  reviewAnew: () => void;
  /** After a tape has come or gone: what is said of the rules may change with it. */
  retaped: (now: Hits) => void;
  /** Sets how many steps each question of the review may take, and asks it again. */
  allowSteps: (steps: number) => Promise<unknown>;
};

/** What can be done with it. */
export type Edits = {
  /** Makes an edit at once, unless there is nothing to it; a refusal is said beside the work. */
  make: (edit: Edit | undefined) => void;
  /** For a button that makes an edit at once: it is weighed while a pointer or a key is on the button. */
  making: (label: string, edit: Edit | undefined) => ComponentProps<"button">;
  /** What somebody is about to do, to be weighed before they do it. */
  intend: (meant?: Meant) => void;
  /** For a button that does something else at once. */
  weighing: ReturnType<typeof useImpactPreview>["on"];
  /** Tells the person at it something. */
  say: (sentence: string) => void;
  edit: ReturnType<typeof useEdits>["send"];
  loadPromises: ReturnType<typeof useEdits>["loadPromises"];
  /** The steps that would add rules that came as text, in their order and without a place. */
  pasted: (text: string) => Promise<StepOf<"ADD_RULE">[]>;
  takeBack: ReturnType<typeof useEdits>["takeBack"];
  /** Makes an older revision current again, as an edit of its own. */
  restore: ReturnType<typeof useEdits>["restore"];
};

/** What the person at it is told of what goes on; it changes more often than what is known. */
export type Told = {
  /** What happened last. */
  said: string;
  /** Whether something has been done that the server has yet to keep. */
  keeping: boolean;
  reviewing: boolean;
  /** Whether somebody has stopped the review of this revision. */
  reviewStopped: boolean;
  /** What the edit just kept did, or several that followed each other; nothing while that is worked out. */
  did?: Impact;
  /** How many edits that was. */
  doneEdits: number;
  /** What somebody is about to do. */
  meant?: Meant;
};

const Opened = createContext<OpenRulebase | undefined>(undefined);
const Answered = createContext<Answers | undefined>(undefined);
const Edited = createContext<Edits | undefined>(undefined);

function within<T>(context: Context<T | undefined>): T {
  const found = useContext(context);
  if (!found) throw new Error("This is shown outside of a rulebase.");
  return found;
}

/** The open rulebase; the same object as long as it says the same. */
export const useOpenRulebase = () => within(Opened);

/** What the server makes of it: review, probe, promises, hits. */
export const useAnswers = () => within(Answered);

/** What can be done with it; always the same object. */
export const useEditing = () => within(Edited);

/** Shows where a probe falls; none without one. */
export function showProbe(probe?: string): void {
  goTo({ probe: probe || undefined });
}

export type Contexts = { openRulebase: OpenRulebase; answers: Answers; edits: Edits };

/** Hands the open rulebase to all that is shown within. */
export function OpenRulebaseProvider({
  openRulebase,
  answers,
  edits,
  children,
}: Contexts & { children: ReactNode }) {
  return (
    <Opened.Provider value={openRulebase}>
      <Answered.Provider value={answers}>
        <Edited.Provider value={edits}>{children}</Edited.Provider>
      </Answered.Provider>
    </Opened.Provider>
  );
}
