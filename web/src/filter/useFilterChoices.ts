import { useQuery } from "@tanstack/react-query";
import { useMemo } from "react";
import { api, type Rule } from "../api/client";
import { useSettled } from "../base/useSettled";
import { rules } from "../rules/order";
import { type Answers, type OpenRulebase, useAnswers, useOpenRulebase } from "../session/contexts";
import { DRAFTED, isQuestion, KEYS, VERDICTS, values } from "./filter";

/** A way to go on with a filter: the whole of it as it would then be, and what that is. */
export type FilterChoice = { value: string; detail: string };

const MOST = 30;

type Known = Pick<OpenRulebase, "rulebase"> & Pick<Answers, "review">;

const ofRules = (known: Known, what: (rule: Rule) => (string | undefined)[]) =>
  known.rulebase ? rules(known.rulebase).flatMap(what) : [];

/** The values that each key may have; worked out only for the key that is being written. */
const VALUES: Record<string, (known: Known) => (string | undefined)[]> = {
  verdict: () => VERDICTS,
  is: () => ["on", "off"],
  draft: () => DRAFTED,
  hits: () => ["none", "=0", ">100"],
  chapter: ({ rulebase }) => rulebase?.chapters.map((chapter) => chapter.title) ?? [],
  finding: ({ review }) => [
    "any",
    ...Object.values(review?.rules ?? {}).flatMap(({ findings }) => findings.map((f) => f.kind)),
  ],
  owner: (known) => ofRules(known, (rule) => [rule.metadata?.owner]),
  names: (known) => ofRules(known, values),
  match: (known) => ofRules(known, values),
};

/** Ways to go on with what has been typed into the filter: keys, and the values that the last key may have. */
export function useFilterChoices(text: string): FilterChoice[] {
  const openRulebase = useOpenRulebase();
  const answers = useAnswers();
  const settled = useSettled(text, 100);
  const sentence = useQuery({
    queryKey: ["completions", settled],
    queryFn: () => api.completions(settled),
    enabled: isQuestion(settled),
    placeholderData: (before) => before,
  });
  const { rulebase } = openRulebase;
  const { review } = answers;
  return useMemo(() => {
    if (isQuestion(text)) {
      if (settled !== text || !sentence.data) return [];
      const { from, choices } = sentence.data;
      return choices
        .slice(0, MOST)
        .map((choice) => ({ value: text.slice(0, from) + choice.text, detail: choice.kind }));
    }
    return choicesFor(text, (key) => VALUES[key]?.({ rulebase, review }) ?? []);
  }, [text, settled, sentence.data, rulebase, review]);
}

/**
 * Ways to go on with the last word of a filter: with a key before it the values of that key, else the keys.
 * What stands before the last word stays as it is.
 */
export function choicesFor(text: string, valuesOf: (key: string) => (string | undefined)[]): FilterChoice[] {
  const [, before = "", key = "", open = ""] = text.match(/^(.*?)(?:\b([a-z]+):("[^"]*|\S*))?$/s) ?? [];
  if (KEYS[key]) return completed(before, key, open.replace(/^"/, ""), valuesOf(key));
  const start = text.replace(/\S*$/, "");
  return Object.entries(KEYS).map(([key, what]) => ({ value: `${start}${key}:`, detail: what }));
}

/** The values that go on with what stands after a key, each once, those that begin with it first. */
function completed(before: string, key: string, open: string, among: (string | undefined)[]): FilterChoice[] {
  const wanted = open.toLowerCase();
  const fitting = [...new Set(among)].filter(
    (value): value is string => !!value && value.toLowerCase().includes(wanted),
  );
  const begins = (value: string) => Number(!value.toLowerCase().startsWith(wanted));
  return fitting
    .sort((a, b) => begins(a) - begins(b) || a.localeCompare(b))
    .slice(0, MOST)
    .map((value) => ({
      value: `${before}${key}:${/\s/.test(value) ? `"${value}"` : value}`,
      detail: KEYS[key],
    }));
}
