import { useQueries, useQuery } from "@tanstack/react-query";
import { useMemo, useState } from "react";
import { api, type Rule } from "../api/client";
import { goTo, useAddressPart } from "../base/address";
import { useSettled } from "../base/useSettled";
import { marksOf, ofRule } from "../rules/known";
import { useAnswers, useOpenRulebase } from "../session/contexts";
import { asked, isMeant, isQuestion, terms, unknown } from "./filter";
import { useFilterChoices } from "./useFilterChoices";

/** What of the stack is shown; the filter is part of the address, so that a view of it can be shared. */
export function useFilter() {
  const openRulebase = useOpenRulebase();
  const { review, hits, inForce } = useAnswers();
  const marks = useMemo(() => marksOf(inForce), [inForce]);
  const text = useAddressPart("find") ?? "";
  const [opened, setOpened] = useState(false);
  const [narrow, setNarrow] = useState<"can" | "get">("can");
  const questioning = isQuestion(text);
  const all = useMemo(() => (questioning ? [] : terms(text)), [text, questioning]);
  const values = asked(all);
  const choices = useFilterChoices(text);
  const rulebase = openRulebase.rulebase;
  const answers = useQueries({
    queries: values.map((value) => ({
      queryKey: ["matching", openRulebase.id, openRulebase.state, value],
      queryFn: () => api.matching(openRulebase.id, value),
      enabled: rulebase !== undefined,
      retry: false,
    })),
  });
  // Typed on without a pause it is asked once, when it is written in full.
  const settled = useSettled(text, 250);
  const question = useQuery({
    queryKey: ["question", openRulebase.id, openRulebase.state, settled],
    queryFn: () => api.question(openRulebase.id, settled),
    enabled: rulebase !== undefined && isQuestion(settled),
    retry: false,
    staleTime: Number.POSITIVE_INFINITY,
  });
  const answered = questioning && settled === text ? question.data : undefined;
  const waiting =
    answers.some((answer) => answer.isPending) || (questioning && (settled !== text || question.isPending));
  // As text, for the answers come in a new list each time.
  const told = JSON.stringify(answers.map((answer, i) => [values[i], answer.data ?? []]));
  const meant = useMemo(() => {
    if (answered) return new Set(answered[narrow]);
    if (!rulebase || all.length === 0) return undefined;
    const sets: [string, string[]][] = JSON.parse(told);
    const matching = new Map(sets.map(([value, rules]) => [value, new Set(rules)]));
    const found = new Set<string>();
    for (const chapter of rulebase.chapters) {
      for (const rule of chapter.rules) {
        const known = {
          chapter: chapter.title,
          findings: ofRule(review, rule.id).findings,
          hits: hits?.rules[rule.id]?.times,
          mark: marks.get(rule.id),
          matching: (value: string) => matching.get(value),
        };
        if (isMeant(rule, all, known)) found.add(rule.id);
      }
    }
    return found;
  }, [rulebase, review, hits, marks, all, told, answered, narrow]);
  const failed = (questioning ? question.isError : answers.some((answer) => answer.isError)) || unknown(all);
  // Where it cannot be read no rule is meant: all of them would look like an answer.
  const shown = useMemo(() => {
    if (failed) return () => false;
    return meant && ((rule: Rule) => meant.has(rule.id));
  }, [meant, failed]);
  return {
    text,
    choices,
    set: (find: string) => goTo({ find: find || undefined }),
    isOpen: opened || text !== "",
    open: () => setOpened(true),
    close: () => {
      setOpened(false);
      goTo({ find: undefined });
    },
    waiting,
    /** What is wrong with what was typed; then no rule is shown for it. */
    problem:
      problemOf(questioning ? [question.error] : answers.map((answer) => answer.error)) ?? unknown(all),
    /** What the rules have to do with what a sentence asks about. */
    answered,
    narrow,
    setNarrow,
    shown,
    meant: failed ? new Set<string>() : (meant ?? new Set<string>()),
    count: failed ? 0 : (meant?.size ?? openRulebase.byId.size),
  };
}

function problemOf(errors: (Error | null)[]): string | undefined {
  return errors.find((error) => error !== null)?.message;
}
