import { expect, test } from "vitest";
import { choicesFor } from "./useFilterChoices";

const of = (values: Record<string, string[]>) => (key: string) => values[key] ?? [];
const texts = (text: string, values: Record<string, string[]> = {}) =>
  choicesFor(text, of(values)).map(({ value }) => value);

test("the last word of a filter is gone on with, whatever stands before it", () => {
  const values = { verdict: ["allow", "deny"], finding: ["partly shadowed", "shadowed", "unused"] };
  expect(texts("finding:sha", values)).toEqual(["finding:shadowed", 'finding:"partly shadowed"']);
  expect(texts("verdict:deny finding:sha", values)).toEqual([
    "verdict:deny finding:shadowed",
    'verdict:deny finding:"partly shadowed"',
  ]);
  expect(texts("verdict:deny fin")).toContain("verdict:deny finding:");
});

test("values with spaces are quoted, and an open quote is gone on with", () => {
  const values = { chapter: ["The web", "The gateway itself"] };
  expect(texts('chapter:"The w', values)).toEqual(['chapter:"The web"']);
  expect(texts("chapter:web", values)).toEqual(['chapter:"The web"']);
  expect(texts("owner:Łu", { owner: ["Łukasz", "Łukasz"] })).toEqual(["owner:Łukasz"]);
});
