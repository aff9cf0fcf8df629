// @vitest-environment node
import { describe, expect, it } from "vitest";
import type { Edited, Review, Rulebase } from "../api/client";
import { blankRule, rulebaseOf } from "../samples";
import { applied, inNames, later, sentence, worstFirst } from "./known";
import { rules } from "./order";

const rulebase = rulebaseOf(
  { id: "one", title: "One", note: "", rules: [blankRule("a", 1), blankRule("b", 2)] },
  { id: "two", title: "Two", note: "", rules: [blankRule("c", 3)] },
);

const edited: Edited = {
  revision: 5,
  state: "five",
  faults: [],
  since: 4,
  defaultVerdict: "deny",
  rules: [],
  removed: [],
  entry: { revision: 5, at: "", who: "", reason: "", what: "", action: "edit", touched: [] },
};

describe("what an edit makes of the rulebase that is known", () => {
  it("changes one rule and leaves the others the very same objects", () => {
    const next = applied(rulebase, { ...edited, rules: [{ ...blankRule("b", 2), name: "B" }] });
    expect(next?.revision).toBe(5);
    expect(rules(next as Rulebase).map((r) => r.name)).toEqual(["", "B", ""]);
    expect(next?.chapters[0].rules[0]).toBe(rulebase.chapters[0].rules[0]);
  });

  it("follows a new order and counts again", () => {
    const order = [
      { id: "two", title: "Two", note: "", first: 1, rules: ["n"], last: 0 },
      { id: "one", title: "First", note: "", first: 0, rules: [], last: 1 },
    ];
    const next = applied(rulebase, { ...edited, order, rules: [blankRule("n", 2)], removed: ["a"] });
    expect(rules(next as Rulebase).map((r) => [r.id, r.number])).toEqual([
      ["c", 1],
      ["n", 2],
      ["b", 3],
    ]);
    expect(next?.chapters.map((c) => c.title)).toEqual(["Two", "First"]);
  });

  it("takes a rule over from another chapter and leaves what did not move alone", () => {
    const order = [
      { id: "one", title: "One", note: "", first: 1, rules: ["c"], last: 1 },
      { id: "two", title: "Two", note: "", first: 0, rules: [], last: 0 },
      { id: "new", title: "New", note: "", first: 0, rules: [], last: 0 },
    ];
    const next = applied(rulebase, { ...edited, order });
    expect(next?.chapters.map((c) => c.rules.map((r) => [r.id, r.number]))).toEqual([
      [
        ["a", 1],
        ["c", 2],
        ["b", 3],
      ],
      [],
      [],
    ]);
    expect(next?.chapters[0].rules[0]).toBe(rulebase.chapters[0].rules[0]);
  });

  it("is nothing if an edit in between is not known", () => {
    expect(applied(rulebase, { ...edited, since: 3 })).toBeUndefined();
  });
});

describe("what a later review says", () => {
  const shadowed = { kind: "shadowed", severity: "error", said: [], accepted: false };
  const unnoted = { kind: "unnoted", severity: "quiet", said: [], accepted: false };
  const first: Review = {
    revision: 4,
    state: "four",
    steps: 1,
    rules: { a: { findings: [unnoted] }, b: { findings: [unnoted] }, c: { findings: [shadowed] } },
  };

  it("is put over what was known, or taken whole", () => {
    const told = { revision: 5, state: "five", since: "four", steps: 1, rules: { c: { findings: [] } } };
    expect(Object.keys(later(first, told).rules)).toEqual(["a", "b", "c"]);
    expect(later(first, told).rules.c.findings).toEqual([]);
    expect(later({ ...first, state: "other catalogue" }, told)).toBe(told);
    expect(later(first, { ...told, since: undefined })).toEqual({ ...told, since: undefined });
  });

  it("is listed with the worst first", () => {
    expect(worstFirst(rulebase, first).map((f) => f.rule)).toEqual(["c", "a", "b"]);
  });

  it("names many rules shortly", () => {
    const number = (id: string) => Number(id);
    const many = ["1", "2", "3", "4", "5", "6", "7"];
    expect(sentence([{ text: "By " }, { rules: many.slice(0, 5), others: 2 }], number)).toBe(
      "By rules 1, 2, 3, 4, 5 and 2 others",
    );
    expect(sentence([{ rules: ["9"] }, { text: "." }], number)).toBe("rule 9.");
  });
});

describe("what the server says of a rule", () => {
  const named = rulebaseOf({
    id: "one",
    title: "One",
    note: "",
    rules: [{ ...blankRule("r24", 1), name: "Print" }, blankRule("gw-a", 2), blankRule("7", 3)],
  });

  it("names it by its number and name", () => {
    expect(inNames("rule r24, from zones: there is no zone X", named)).toBe(
      "rule 1 Print, from zones: there is no zone X",
    );
    expect(inNames("rule gw-a: it has no name", named)).toBe("rule 2: it has no name");
  });

  it("leaves numbers and what it does not know as they are", () => {
    expect(inNames("rule 7 matches all; rule r99 is gone.", named)).toBe(
      "rule 7 matches all; rule r99 is gone.",
    );
    expect(inNames("rule r24: so", undefined)).toBe("rule r24: so");
  });
});
