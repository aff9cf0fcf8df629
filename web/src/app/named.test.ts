// @vitest-environment node
import { describe, expect, it } from "vitest";
import type { Catalogue } from "../api/client";
import { blankRule, rulebaseOf } from "../samples";
import { named } from "./named";

describe("everything by name", () => {
  const rulebase = rulebaseOf({
    id: "berths",
    title: "Berth control",
    note: "",
    rules: [blankRule("r1", 1, { name: "Ramps at night" }), blankRule("r2", 12, { name: "No ramps" })],
  });
  const catalogue = { edition: 1, applications: [{ name: "Rampline" }] } as Catalogue;
  const people = [{ value: "ramona.pike", kind: "person", detail: "Deck crew" }];
  const names = (text: string) =>
    named({ rulebase }, catalogue, people, text).map(({ kind, name }) => `${kind}: ${name}`);

  it("finds whatever there is of a name, what begins with it first", () => {
    expect(names("ramp")).toEqual([
      "rule 1: Ramps at night",
      "application: Rampline",
      "person: ramona.pike",
      "rule 12: No ramps",
    ]);
    expect(names("rule 12")[0]).toBe("rule 12: No ramps");
    expect(names("berth")[0]).toBe("chapter: Berth control");
  });

  it("leads from an address to the rules that can match it, and from a change to its rule", () => {
    const [address] = named({ rulebase }, undefined, [], "10.20.0.0/16");
    expect(address.where).toMatchObject({ page: "rulebase", find: "match:10.20.0.0/16" });
    const metadata = { owner: "", changes: "CHG-4711", reviewBy: "" };
    const changed = rulebaseOf({ id: "c", title: "C", note: "", rules: [blankRule("r9", 9, { metadata })] });
    const [change] = named({ rulebase: changed }, undefined, [], "chg-47");
    expect(change).toMatchObject({ kind: "change", where: { rule: "r9" } });
  });

  it("leads where it is looked at, and asks nothing else there", () => {
    const [person] = named({ rulebase }, catalogue, people, "zzz");
    expect(person.where).toMatchObject({ page: "reach", who: "ramona.pike", rule: undefined });
    const [chapter] = named({ rulebase }, undefined, [], "chapter");
    expect(chapter.where).toMatchObject({ page: "rulebase", rule: "chapter berths" });
  });
});
