import { useQuery } from "@tanstack/react-query";
import { useMemo } from "react";
import { api, type Rule } from "../api/client";
import type { Session } from "../session/useSession";
import { useSettled } from "../session/useSettled";
import { rules } from "../stack/order";
import { isQuestion, KEYS, VERDICTS, values } from "./filter";

/** A way to go on with a filter: the whole of it as it would then be, and what that is. */
export type FilterChoice = { value: string; detail: string };

const MOST = 30;

/** What of a rule is looked at for each key whose values are the rules' own. */
const OF_RULES: Record<string, (rule: Rule) => (string | undefined)[]> = {
  owner: (rule) => [rule.metadata?.owner],
  names: values,
  match: values,
};

/** Ways to go on with what has been typed into the filter: keys, and the values that the last key may have. */
export function useFilterChoices(session: Session, text: string): FilterChoice[] {
  const settled = useSettled(text, 100);
  const sentence = useQuery({
    queryKey: ["completions", settled],
    queryFn: () => api.completions(settled),
    enabled: isQuestion(settled ?? ""),
    placeholderData: (before) => before,
  });
  const { rulebase, review } = session;
  return useMemo(() => {
    if (isQuestion(text)) {
      if (settled !== text || !sentence.data) return [];
      const { from, choices } = sentence.data;
      return choices
        .slice(0, MOST)
        .map((choice) => ({ value: text.slice(0, from) + choice.text, detail: choice.kind }));
    }
    const [, before = "", key, open = ""] = text.match(/^(.*?)(?:\b([a-z]+):)"?([^"]*)$/s) ?? [];
    if (!key || !KEYS[key]) {
      const start = text.replace(/\S*$/, "");
      return Object.entries(KEYS).map(([key, what]) => ({ value: `${start}${key}:`, detail: what }));
    }
    const ofRules = OF_RULES[key];
    const named = (rulebase && ofRules && rules(rulebase).flatMap(ofRules)) ?? [];
    const known: Record<string, (string | undefined)[]> = {
      verdict: VERDICTS,
      is: ["on", "off"],
      hits: ["none", "=0", ">100"],
      chapter: rulebase?.chapters.map((chapter) => chapter.title) ?? [],
      finding: [
        "any",
        ...Object.values(review?.rules ?? {}).flatMap(({ findings }) => findings.map((f) => f.kind)),
      ],
    };
    return completed(before, key, open, [...(known[key] ?? []), ...named]);
  }, [text, settled, sentence.data, rulebase, review]);
}

/** The values that go on with what stands after a key, each once, those that begin with it first. */
export function completed(
  before: string,
  key: string,
  open: string,
  among: (string | undefined)[],
): FilterChoice[] {
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
