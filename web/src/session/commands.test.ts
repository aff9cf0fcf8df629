// @vitest-environment node
import { describe, expect, it } from "vitest";
import type { Rulebase } from "../api/client";
import { added, begun, cloneOf, difference, draftOf } from "../editor/draft";
import { blankRule, rulebaseOf } from "../samples";
import { type Commands, commands } from "./commands";
import { optimisticUpdate } from "./optimisticUpdate";
import { stepsOf } from "./useSent";

const rulebase = rulebaseOf(
  { id: "one", title: "One", note: "", rules: [blankRule("a", 1), blankRule("b", 2, { state: "off" })] },
  { id: "none", title: "None", note: "", rules: [] },
);

function done(selected: string | undefined, which: keyof Commands, before: Rulebase = rulebase) {
  const { edit } = commands(rulebase, selected)[which];
  const steps = edit ? stepsOf(edit, before) : [];
  const what = typeof edit?.what === "function" ? edit.what(before) : edit?.what;
  return { what, steps, after: optimisticUpdate(before, steps) };
}

describe("what one key does", () => {
  it("is worked out on the rulebase of its turn and called by the numbers of then", () => {
    const { after } = done("a", "moveDown");
    expect(after.chapters[0].rules.map(({ id }) => id)).toEqual(["b", "a"]);
    expect(done("a", "moveUp", after).what).toBe("moved rule 2");
    expect(done("a", "moveUp", after).after.chapters[0].rules.map(({ id }) => id)).toEqual(["a", "b"]);
    expect(done("a", "moveUp").steps).toEqual([]);
  });

  it("switches a rule to what it is not, and moves and removes chapters too", () => {
    expect(commands(rulebase, "b").switching.label).toBe("Switch on");
    expect(done("b", "switching").after.chapters[0].rules[1].state).toBe("on");
    expect(done("chapter none", "moveUp").after.chapters.map(({ id }) => id)).toEqual(["none", "one"]);
    expect(done("chapter none", "remove").steps).toEqual([{ op: "REMOVE_CHAPTER", id: "none" }]);
    expect(done("chapter none", "remove").what).toBe("removed chapter None");
    expect(commands(rulebase, "chapter none").switching.edit).toBeUndefined();
  });

  it("is nothing where nothing is selected", () => {
    for (const deed of Object.values(commands(rulebase, undefined))) expect(deed.edit).toBeUndefined();
  });
});

it("a clone begins as its rule is, but on, and says where it came from", () => {
  const rule = blankRule("a", 7, {
    name: "Ferry",
    note: "Ask first.",
    state: "off",
    outcome: "allow in Slow",
    sheet: "Guest web",
    metadata: { owner: "Odette", changes: "CHG-7", reviewBy: "2027-01-01" },
    fields: { "from.zones": { sense: "is not", values: ["Offices"] } },
  });
  const draft = begun(cloneOf(rule));
  const note = "Copied from rule 7 (Ferry). Ask first.";
  expect(draft).toEqual({ ...draftOf(rule), name: "Ferry (copy)", note, state: "on" });
  expect(difference(draftOf(), draft).metadata).toEqual(rule.metadata);
});

it("a new rule is sent with what it blocks or lets through, also where that is as in a blank one", () => {
  const draft = begun({ verdict: "deny", fields: { "from.zones": { sense: "is", values: ["Offices"] } } });
  expect(added(difference(draftOf(), draft))).toMatchObject({
    verdict: "deny",
    state: "on",
    logging: "logged",
  });
  expect(added(difference(draftOf(), begun({ verdict: "allow" })))).toMatchObject({
    verdict: "allow",
    state: "off",
  });
});
