import type { Chapter, Impact, Rule, Rulebase } from "./api/client";

/** A rule that says nothing yet, for tests. */
export function blankRule(id: string, number = 1, more: Partial<Rule> = {}): Rule {
  return {
    id,
    number,
    name: "",
    state: "on",
    fields: {},
    ports: "any",
    verdict: "deny",
    outcome: "deny",
    logging: "logged",
    note: "",
    sentence: "",
    ...more,
  };
}

/** A rulebase of these chapters and nothing else, for tests. */
export function rulebaseOf(...chapters: Chapter[]): Rulebase {
  return {
    id: "b",
    name: "B",
    revision: 4,
    state: "four",
    faults: [],
    defaultVerdict: "deny",
    sets: [],
    parts: { sheets: [], notices: [], lanes: [], decryption: [] },
    chapters,
  };
}

/** What an edit does that changes nothing, for tests. */
export const NO_IMPACT: Impact = {
  revision: 3,
  state: "three",
  complete: true,
  kinds: [],
  ended: [],
  begun: [],
  broken: [],
  mended: [],
  recorded: { times: 0, besideVerdict: 0, people: 0, names: [], lines: [], more: 0 },
  oversubscribed: [],
};
