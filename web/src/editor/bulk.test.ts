// @vitest-environment node
import { describe, expect, it } from "vitest";
import { patchOf, placeOf, type Rule, type Rulebase, type RuleField } from "../api/client";
import { asked, isMeant, terms, unknown } from "../filter/filter";
import { differences, hunks, pairs } from "../history/compare";
import { hitsWord, lines } from "../rules/order";
import { blankRule, rulebaseOf } from "../samples";
import { mergeable, splitSteps, splittable, steps } from "./bulk";

function rule(id: string, fields: Record<string, string[]> = {}, more: Partial<Rule> = {}): Rule {
  const made: Record<string, RuleField> = {};
  for (const [key, values] of Object.entries(fields)) made[key] = { sense: "is", values };
  return blankRule(id, 1, {
    name: id.toUpperCase(),
    fields: made,
    verdict: "allow",
    outcome: "allow",
    ...more,
  });
}

const rulebase = (rules: Rule[]): Rulebase =>
  rulebaseOf({ id: "c", title: "All", note: "", rules: rules.map((r, i) => ({ ...r, number: i + 1 })) });

describe("a filter", () => {
  const known = {
    chapter: "Booking and payment",
    findings: [{ kind: "partly shadowed", severity: "warning", accepted: false }],
    matching: (value: string) => (value === "10.0.0.1" ? new Set(["a"]) : undefined),
  };
  const one = rule(
    "a",
    { "from.people": ["group Deck crew"], "using.services": ["tcp/443"] },
    { note: "CHG-7", metadata: { owner: "Berth team" } },
  );
  const meant = (text: string) => isMeant(one, terms(text), known);

  it("asks for each of its words", () => {
    expect(meant("chg-7 443")).toBe(true);
    expect(meant("chg-8")).toBe(false);
    expect(meant('"deck crew" verdict:allow is:on owner:berth chapter:pay')).toBe(true);
    expect(meant("verdict:deny")).toBe(false);
    expect(meant("finding:any")).toBe(true);
    expect(meant("finding:partly")).toBe(true);
    expect(meant("finding:shadowed")).toBe(false);
    expect(meant("finding:empty")).toBe(false);
    expect(meant('names:"deck crew"')).toBe(true);
    expect(meant("names:deck")).toBe(false);
  });

  it("takes what it does not know as a key for text, and waits for what the server has to say", () => {
    expect(terms("time:10")).toEqual([{ key: "", wanted: "time:10" }]);
    expect(asked(terms("match:10.0.0.1 match:ada word"))).toEqual(["10.0.0.1", "ada"]);
    expect(meant("match:10.0.0.1")).toBe(true);
    expect(meant("match:10.0.0.2")).toBe(true);
    expect(isMeant({ ...one, id: "b" }, terms("match:10.0.0.1"), known)).toBe(false);
  });

  it("leaves a gap wherever rules are left out", () => {
    const base = rulebase([rule("a"), rule("b"), rule("c"), rule("d")]);
    const shown = lines(base, new Set(), undefined, (r) => r.id === "c");
    expect(shown.map((line) => (line.kind === "gap" ? line.count : line.kind))).toEqual([
      "chapter",
      2,
      "rule",
      1,
      "last",
    ]);
  });
});

describe("work on many rules", () => {
  const a = rule("a", { "to.zones": ["Internet"], "using.applications": ["X", "Y"] });
  const b = rule("b", { "to.zones": ["Internet"], "using.applications": ["Z"] });

  it("changes only those it would change", () => {
    expect(steps({ what: "state", to: "on" }, [a, b])).toEqual([]);
    expect(steps({ what: "logging", to: "not logged" }, [a, b]).map((step) => step.id)).toEqual(["a", "b"]);
    expect(steps({ what: "add", field: "using.applications", value: "Z" }, [a, b]).map((s) => s.id)).toEqual([
      "a",
    ]);
  });

  it("never empties a field by taking its last value, for it would then say any", () => {
    const taken = steps({ what: "take", field: "using.applications", value: "Z" }, [a, b]);
    expect(taken).toEqual([]);
  });

  it("replaces a value without doubling another", () => {
    const [step] = steps({ what: "replace", value: "X", by: "Y" }, [a, b]);
    expect(patchOf(step)?.fields).toEqual({ "using.applications": { sense: "is", values: ["Y"] } });
  });

  it("merges what differs in one field only, and splits it again", () => {
    expect(mergeable([a, b])).toBe("using.applications");
    expect(mergeable([a, { ...b, outcome: "deny" }])).toBeUndefined();
    const merged = steps({ what: "merge" }, [a, b]);
    expect(patchOf(merged[0])?.fields?.["using.applications"].values).toEqual(["X", "Y", "Z"]);
    expect(merged[1]).toEqual({ op: "REMOVE_RULE", id: "b" });
    expect(splittable(a)).toEqual(["using.applications"]);
    const split = splitSteps(a, "using.applications");
    expect(split.map((step) => patchOf(step)?.fields?.["using.applications"].values)).toEqual([["X"], ["Y"]]);
    expect(placeOf(split[1])).toEqual({ after: "a" });
  });

  it("keeps what was written down about merged rules", () => {
    const metadata = { owner: "net", changes: "4711", reviewBy: "2027-03-01" };
    const later = { owner: "web", changes: "4712", reviewBy: "2027-02-01" };
    const [change] = steps({ what: "merge" }, [
      { ...a, note: "For the audit.", metadata },
      { ...b, note: "For the web.", metadata: later },
    ]);
    expect(patchOf(change)?.note).toBe("For the audit. For the web.");
    expect(patchOf(change)?.metadata).toEqual({
      owner: "net",
      changes: "4711, 4712",
      reviewBy: "2027-02-01",
    });
  });

  it("does not merge a field that one of the rules leaves open", () => {
    expect(mergeable([a, rule("c", { "to.zones": ["Internet"] })])).toBeUndefined();
  });
});

describe("hits", () => {
  it("are said in few letters, and asked for by their number", () => {
    expect([0, 1, 999, 1000, 12_345, 3_400_000].map(hitsWord)).toEqual([
      "no hits",
      "1 hit",
      "999 hits",
      "1.0k hits",
      "12k hits",
      "3.4M hits",
    ]);
    const known = (hits?: number) => ({ chapter: "", findings: [], hits, matching: () => undefined });
    const meant = (text: string, hits?: number) => isMeant(rule("a"), terms(text), known(hits));
    expect([meant("hits:none"), meant("hits:none", 3), meant("hits:3", 3), meant("hits:4", 3)]).toEqual([
      true,
      false,
      true,
      false,
    ]);
  });

  it("are compared with a number, with or without spaces", () => {
    const known = (hits?: number) => ({ chapter: "", findings: [], hits, matching: () => undefined });
    const meant = (text: string, hits?: number) => isMeant(rule("a"), terms(text), known(hits));
    expect([
      meant("hits = 0"),
      meant("hits=0", 1),
      meant("hits > 100", 101),
      meant("hits > 100", 100),
    ]).toEqual([true, false, true, false]);
    expect([meant("hits <= 5", 5), meant("hits < 5", 5), meant("hits >= 5", 5)]).toEqual([true, false, true]);
    expect(unknown(terms("hits > 100 is:off"))).toBeUndefined();
    expect(unknown(terms("hits:many"))).toContain("hits > 100");
  });
});

describe("two revisions side by side", () => {
  it("shows a moved rule as gone here and come there, and changed ones beside each other", () => {
    const before = [rule("a"), rule("b"), rule("c")];
    const after = [rule("c"), rule("a"), rule("b", {}, { note: "new" })];
    expect(pairs(before, after).map((p) => `${p.kind} ${p.before?.id ?? "-"} ${p.after?.id ?? "-"}`)).toEqual(
      ["come - c", "same a a", "changed b b", "gone c -"],
    );
    expect(differences(after[2], before[1])).toEqual(["note: new"]);
  });

  it("takes the one that was edited for the one that moved, and leaves it where it only says something else", () => {
    const [a, b, c, d] = ["a", "b", "c", "d"].map((id) => rule(id));
    const kinds = (after: Rule[], touched: string[]) =>
      pairs([a, b, c, d], after, new Set(touched)).map((p) => `${p.kind} ${(p.after ?? p.before)?.id}`);
    expect(kinds([a, c, b, d], ["c"])).toEqual(["same a", "come c", "same b", "gone c", "same d"]);
    expect(kinds([a, c, b, d], ["b"])).toEqual(["same a", "gone b", "same c", "come b", "same d"]);
    expect(kinds([a, { ...b, note: "new" }, c, d], ["b"])).toEqual([
      "same a",
      "changed b",
      "same c",
      "same d",
    ]);
    expect(kinds([a, c, d, b], ["a", "b", "c", "d"])).toEqual([
      "same a",
      "gone b",
      "same c",
      "same d",
      "come b",
    ]);
  });

  it("leaves out what is far from any change", () => {
    const many = Array.from({ length: 20 }, (_, i) => rule(`r${i}`));
    const changed = many.map((r, i) => (i === 10 ? { ...r, name: "other" } : r));
    const found = hunks(rulebase(many), rulebase(changed), new Set(["r10"]));
    expect(found).toHaveLength(1);
    expect(found[0].lines.map((line) => line.kind)).toEqual(["same", "changed", "same"]);
    expect(hunks(rulebase(many), rulebase(many), new Set())).toEqual([]);
  });
});
