// @vitest-environment node
import { expect, test } from "vitest";
import { blankRule } from "../samples";
import { isMeant, terms, unknown } from "./filter";

const means = (text: string, mark?: string) =>
  isMeant(blankRule("r1", 1), terms(text), { chapter: "", findings: [], mark, matching: () => undefined });

test("what is not as in force is meant by how it differs, or by any of that", () => {
  expect(means("draft:any", "moved")).toBe(true);
  expect(means("draft:new", "moved")).toBe(false);
  expect(means("draft:moved", "moved")).toBe(true);
  expect(means("draft:any")).toBe(false);
  expect(unknown(terms("draft:old"))).toContain("new, changed, moved or any");
  expect(unknown(terms("draft:any"))).toBeUndefined();
});
