/** The words that are this application's own, each in one sentence. */
export const TERMS = {
  residue: "What is left of a rule: the share of the connections it matches that no rule above takes.",
  lens: "The panel about what is selected: what the review found, what takes from a rule, and what it was for.",
  probe: "One connection, run through the rules from the top to the one that catches it.",
  witness: "One connection that proves a statement; try it, and see which rule catches it.",
  claim: "All connections a rule matches by itself, whatever the rules above take of them.",
  sheet: "Finer verdicts below an allow rule: what may be used of what it lets through, and how.",
  lane: "The bandwidth that connections of a rule share: what is guaranteed to them and where it ends.",
  promise:
    "A connection with the verdict it must get; every edit says before it is made which ones it breaks.",
  tape: "Recorded traffic under one name; its connections are run through the rulebase as it is now.",
  reach: "What somebody can use from where, over all rules together.",
} as const;

export type Word = keyof typeof TERMS;
