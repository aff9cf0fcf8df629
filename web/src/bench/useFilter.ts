import { useQueries } from "@tanstack/react-query";
import { useMemo, useState } from "react";
import { api, type Rule } from "../api/client";
import { goTo, useAddress } from "../frame/address";
import { asked, isMeant, terms } from "./filter";
import { ofRule } from "./known";
import type { BenchState } from "./useBench";

/** What of the stack is shown; the filter is part of the address, so that a view of it can be shared. */
export function useFilter(bench: BenchState) {
  const address = useAddress();
  const text = address.find ?? "";
  const [opened, setOpened] = useState(false);
  const all = useMemo(() => terms(text), [text]);
  const values = asked(all);
  const rulebase = bench.rulebase;
  const answers = useQueries({
    queries: values.map((value) => ({
      queryKey: ["matching", bench.id, bench.state, value],
      queryFn: () => api.matching(bench.id, value),
      enabled: rulebase !== undefined,
      retry: false,
    })),
  });
  const waiting = answers.some((answer) => answer.isPending);
  // As text, for the answers come in a new list each time.
  const told = JSON.stringify(answers.map((answer, i) => [values[i], answer.data ?? []]));
  const meant = useMemo(() => {
    if (!rulebase || all.length === 0) return undefined;
    const sets: [string, string[]][] = JSON.parse(told);
    const matching = new Map(sets.map(([value, rules]) => [value, new Set(rules)]));
    const found = new Set<string>();
    for (const chapter of rulebase.chapters) {
      for (const rule of chapter.rules) {
        const known = {
          chapter: chapter.title,
          findings: ofRule(bench.review, rule.id).findings,
          hits: bench.hits?.rules[rule.id]?.times,
          matching: (value: string) => matching.get(value),
        };
        if (isMeant(rule, all, known)) found.add(rule.id);
      }
    }
    return found;
  }, [rulebase, bench.review, bench.hits, all, told]);
  const shown = useMemo(() => (meant ? (rule: Rule) => meant.has(rule.id) : undefined), [meant]);
  return {
    text,
    set: (find: string) => goTo({ find: find || undefined }),
    isOpen: opened || text !== "",
    open: () => setOpened(true),
    close: () => {
      setOpened(false);
      goTo({ find: undefined });
    },
    waiting,
    shown,
    meant: meant ?? new Set<string>(),
    count: meant?.size ?? bench.byId.size,
  };
}
