// @vitest-environment node
import { describe, expect, it } from "vitest";
import { blankRule, rulebaseOf } from "../samples";
import { chipText } from "./fields";
import { dropStep, lines, moveStep, neighbour, nextMarked, percent } from "./order";

const rulebase = rulebaseOf(
  { id: "one", title: "One", note: "", rules: [blankRule("a", 1), blankRule("b", 2)] },
  { id: "none", title: "None", note: "", rules: [] },
  { id: "two", title: "Two", note: "", rules: [blankRule("c", 3)] },
);

describe("the order of the stack", () => {
  it("shows chapters, rules and the default verdict", () => {
    expect(lines(rulebase, new Set()).map((line) => line.id)).toEqual([
      "chapter one",
      "a",
      "b",
      "chapter none",
      "chapter two",
      "c",
      "default verdict",
    ]);
  });

  it("hides the rules of folded chapters and shows a draft in its place", () => {
    expect(lines(rulebase, new Set(["one"])).map((line) => line.id)).not.toContain("a");
    const drafted = lines(rulebase, new Set(), { before: "b" }).map((line) => line.id);
    expect(drafted.indexOf("draft")).toBe(drafted.indexOf("b") - 1);
    expect(lines(rulebase, new Set(), { chapter: "none" })[4].id).toBe("draft");
  });

  it("stays within the stack when it goes on", () => {
    const all = lines(rulebase, new Set());
    expect(neighbour(all, "a", 1)).toBe("b");
    expect(neighbour(all, "default verdict", 1)).toBe("default verdict");
    expect(neighbour(all, undefined, 1)).toBe("chapter one");
  });

  it("moves a rule by one place, over the edges of chapters", () => {
    expect(moveStep(rulebase, "a", 1)?.place).toEqual({ after: "b" });
    expect(moveStep(rulebase, "b", 1)?.place).toEqual({ chapter: "none" });
    expect(moveStep(rulebase, "c", -1)?.place).toEqual({ chapter: "none" });
    expect(moveStep(rulebase, "a", -1)).toBeUndefined();
    expect(moveStep(rulebase, "c", 1)).toBeUndefined();
  });

  it("drops a rule below when dragged down and above when dragged up", () => {
    expect(dropStep(rulebase, "a", "c")?.place).toEqual({ after: "c" });
    expect(dropStep(rulebase, "c", "a")?.place).toEqual({ before: "a" });
    expect(dropStep(rulebase, "c", "c")).toBeUndefined();
  });

  it("finds the next rule with a mark, going round", () => {
    const found = new Set(["a", "c"]);
    expect(nextMarked(rulebase, found)).toBe("a");
    expect(nextMarked(rulebase, found, "a")).toBe("c");
    expect(nextMarked(rulebase, found, "c")).toBe("a");
    expect(nextMarked(rulebase, new Set())).toBeUndefined();
  });
});

describe("words of the stack", () => {
  it("never rounds something to nothing or to all", () => {
    expect([0, 0.0001, 0.05, 0.5, 0.9995, 1].map(percent)).toEqual([
      "0",
      "<0.1",
      "5.0",
      "50",
      ">99.9",
      "100",
    ]);
  });

  it("leaves out the word that a mark says", () => {
    expect(chipText("group Deck crew")).toBe("Deck crew");
    expect(chipText("tcp/443")).toBe("tcp/443");
  });
});
