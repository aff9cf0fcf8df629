import type { Rule, RuleField, RulePatch, RuleStep } from "../api/client";
import { FIELDS } from "../rules/fields";

/** Something to do to many rules at once. */
export type Work =
  | { what: "state" | "logging"; to: string }
  | { what: "owner"; to: string }
  | { what: "move"; chapter: string }
  | { what: "add" | "take"; field: string; value: string }
  | { what: "replace"; value: string; by: string }
  | { what: "remove" }
  | { what: "merge" };

/** The steps of one edit that does it; none where there is nothing to do. */
export function steps(work: Work, rules: Rule[]): RuleStep[] {
  switch (work.what) {
    case "state":
    case "logging":
      return rules
        .filter((rule) => rule[work.what] !== work.to)
        .map((rule) => change(rule, { [work.what]: work.to }));
    case "owner":
      return rules
        .filter((rule) => (rule.metadata?.owner ?? "") !== work.to)
        .map((rule) => change(rule, { metadata: { owner: work.to } }));
    case "move":
      // Each goes to the end in turn, so they keep their order.
      return rules.map((rule) => ({ op: "MOVE_RULE", id: rule.id, place: { chapter: work.chapter } }));
    case "remove":
      return rules.map((rule) => ({ op: "REMOVE_RULE", id: rule.id }));
    case "add":
    case "take":
      return rules.flatMap((rule) => {
        const field = rule.fields[work.field];
        const next = work.what === "add" ? added(field, work.value) : without(field, work.value);
        return next ? [change(rule, { fields: { [work.field]: next } })] : [];
      });
    case "replace":
      return rules.flatMap((rule) => {
        const fields: Record<string, RuleField> = {};
        for (const { key } of FIELDS) {
          const field = rule.fields[key];
          if (!field?.values.includes(work.value)) continue;
          const values = field.values.map((value) => (value === work.value ? work.by : value));
          fields[key] = { ...field, values: [...new Set(values)] };
        }
        return Object.keys(fields).length > 0 ? [change(rule, { fields })] : [];
      });
    case "merge": {
      const field = mergeable(rules);
      if (!field) return [];
      const [first, ...others] = rules;
      const values = [...new Set(rules.flatMap((rule) => rule.fields[field]?.values ?? []))];
      const sense = first.fields[field]?.sense ?? "is";
      return [
        change(first, { fields: { [field]: { sense, values } }, ...writtenDown(rules) }),
        ...others.map((rule): RuleStep => ({ op: "REMOVE_RULE", id: rule.id })),
      ];
    }
  }
}

/** What was written down about some rules that become one; nothing is lost, and the earliest day counts. */
function writtenDown(rules: Rule[]): RulePatch {
  const distinct = (texts: (string | undefined)[]) => [...new Set(texts.filter((text) => text))];
  return {
    note: distinct(rules.map((rule) => rule.note)).join(" "),
    metadata: {
      owner: distinct(rules.map((rule) => rule.metadata?.owner))[0] ?? "",
      changes: distinct(rules.map((rule) => rule.metadata?.changes)).join(", "),
      reviewBy: distinct(rules.map((rule) => rule.metadata?.reviewBy)).sort()[0] ?? "",
    },
  };
}

function change(rule: Rule, patch: RulePatch): RuleStep {
  return { op: "CHANGE_RULE", id: rule.id, rule: patch };
}

/** Nothing where the field says any, for any holds the value, or has it already. */
function added(field: RuleField | undefined, value: string): RuleField | undefined {
  if (!field || field.values.includes(value)) return undefined;
  return { ...field, values: [...field.values, value] };
}

/** Nothing where that would leave the field empty: it would then say any. */
function without(field: RuleField | undefined, value: string): RuleField | undefined {
  if (!field?.values.includes(value) || field.values.length === 1) return undefined;
  return { ...field, values: field.values.filter((other) => other !== value) };
}

/** The one field in which some rules differ that otherwise say the same; nothing if there is no such field. */
export function mergeable(rules: Rule[]): string | undefined {
  if (rules.length < 2) return undefined;
  const [first, ...others] = rules;
  const same = (rule: Rule) =>
    rule.outcome === first.outcome &&
    rule.sheet === first.sheet &&
    rule.ports === first.ports &&
    rule.logging === first.logging &&
    rule.state === first.state;
  if (!others.every(same)) return undefined;
  const differing = FIELDS.filter(({ key }) =>
    others.some((rule) => JSON.stringify(rule.fields[key]) !== JSON.stringify(first.fields[key])),
  );
  if (differing.length !== 1) return undefined;
  const { key } = differing[0];
  return rules.every((rule) => rule.fields[key]?.sense === "is") ? key : undefined;
}

/** The fields a rule can be split by: those with several values that must be one of them. */
export function splittable(rule: Rule): string[] {
  return FIELDS.map(({ key }) => key).filter(
    (key) => rule.fields[key]?.sense === "is" && rule.fields[key].values.length > 1,
  );
}

/** The steps that make of one rule as many as a field has values, one below the other. */
export function splitSteps(rule: Rule, field: string): RuleStep[] {
  const { values } = rule.fields[field];
  const only = (value: string) => ({ ...rule.fields, [field]: { sense: "is", values: [value] } });
  const { ports, outcome, sheet, logging, state, metadata } = rule;
  return [
    change(rule, { fields: { [field]: { sense: "is", values: [values[0]] } } }),
    // Each goes right below the first one, so the last value comes first.
    ...values
      .slice(1)
      .reverse()
      .map(
        (value): RuleStep => ({
          op: "ADD_RULE",
          place: { after: rule.id },
          rule: {
            name: `${rule.name} (${value})`,
            fields: only(value),
            ports,
            verdict: outcome,
            sheet: sheet ?? "",
            logging,
            state,
            note: rule.note,
            metadata,
          },
        }),
      ),
  ];
}
