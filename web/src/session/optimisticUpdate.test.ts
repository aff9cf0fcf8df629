// @vitest-environment node
import { describe, expect, it } from "vitest";
import type { Step } from "../api/client";
import { blankRule, rulebaseOf } from "../samples";
import { optimisticUpdate } from "./optimisticUpdate";

const rulebase = rulebaseOf(
  { id: "one", title: "One", note: "", rules: [blankRule("a", 1), blankRule("b", 2)] },
  { id: "two", title: "Two", note: "", rules: [blankRule("c", 3), blankRule("d", 4)] },
);

/** Chapters and rules in a line, each with its number, and a rule that is off with a dash. */
function told(...steps: Step[]): string {
  return optimisticUpdate(rulebase, steps)
    .chapters.map(
      ({ id, rules }) =>
        `${id}: ${rules.map((r) => `${r.number}${r.id}${r.state === "off" ? "-" : ""}`).join(" ")}`,
    )
    .join(" | ");
}

describe("what is shown of an edit before the server has it", () => {
  it("is where rules and chapters go, numbered from the top", () => {
    expect(told({ op: "MOVE_RULE", id: "d", place: { before: "b" } })).toBe("one: 1a 2d 3b | two: 4c");
    expect(told({ op: "MOVE_RULE", id: "a", place: { after: "c" } })).toBe("one: 1b | two: 2c 3a 4d");
    expect(told({ op: "MOVE_RULE", id: "a", place: { after: "b" } })).toBe("one: 1b 2a | two: 3c 4d");
    expect(told({ op: "MOVE_RULE", id: "c", place: { chapter: "one" } })).toBe("one: 1a 2b 3c | two: 4d");
    expect(told({ op: "MOVE_CHAPTER", id: "two", place: { before: "one" } })).toBe("two: 1c 2d | one: 3a 4b");
  });

  it("is what is taken out or switched off, several at once", () => {
    const off: Step = { op: "CHANGE_RULE", id: "c", rule: { state: "off" } };
    expect(told({ op: "REMOVE_RULE", id: "a" }, off)).toBe("one: 1b | two: 2c- 3d");
  });

  it("leaves rules that stay where they are the very same objects", () => {
    const next = optimisticUpdate(rulebase, [{ op: "MOVE_RULE", id: "d", place: { before: "c" } }]);
    expect(next.chapters[0]).toBe(rulebase.chapters[0]);
    expect(next.revision).toBe(4);
  });

  it("is nothing as soon as one step may be refused or does not fit", () => {
    const move: Step = { op: "MOVE_RULE", id: "d", place: { before: "b" } };
    const unsure: Step[] = [
      { op: "CHANGE_RULE", id: "a", rule: { name: "typed" } },
      { op: "CHANGE_RULE", id: "a", rule: { state: "off", verdict: "typed" } },
      { op: "ADD_RULE", place: { after: "a" } },
      { op: "MOVE_RULE", id: "gone", place: { after: "a" } },
      { op: "MOVE_RULE", id: "a", place: { after: "gone" } },
      { op: "MOVE_RULE", id: "a", place: { after: "a" } },
      { op: "MOVE_RULE", id: "a", place: { chapter: "gone" } },
      { op: "MOVE_RULE", id: "a" },
      { op: "MOVE_CHAPTER", id: "one", place: { before: "gone" } },
      { op: "SET_DEFAULT_VERDICT", verdict: "allow" },
    ];
    for (const step of unsure) expect(optimisticUpdate(rulebase, [move, step])).toBe(rulebase);
  });
});
