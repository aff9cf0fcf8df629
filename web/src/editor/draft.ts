import type { Rule, RuleField, RulePatch } from "../api/client";
import { FIELDS } from "../rules/fields";

/** A field that says any. */
export const NOTHING: RuleField = { sense: "is", values: [] };

/** A rule while it is being written. */
export type Draft = {
  name: string;
  note: string;
  owner: string;
  changes: string;
  reviewBy: string;
  /** What happens, in full: a verdict with its notice or lane. */
  verdict: string;
  sheet: string;
  logging: string;
  ports: string;
  state: string;
  fields: Record<string, RuleField>;
};

/** A rule as it is, or a blank one: that blocks, and is off until it says something. */
export function draftOf(rule?: Rule): Draft {
  return {
    name: rule?.name ?? "",
    note: rule?.note ?? "",
    owner: rule?.metadata?.owner ?? "",
    changes: rule?.metadata?.changes ?? "",
    reviewBy: rule?.metadata?.reviewBy ?? "",
    verdict: rule?.outcome ?? "deny",
    sheet: rule?.sheet ?? "",
    logging: rule?.logging ?? "logged",
    ports: rule?.ports ?? "any",
    state: rule?.state ?? "off",
    fields: rule?.fields ?? {},
  };
}

/** A new rule to begin with, as a sentence gave it or as another rule is. */
export function begun(initial: RulePatch | undefined): Draft {
  const { metadata, fields: given, ...said } = initial ?? {};
  const fields: Record<string, RuleField> = {};
  for (const [key, field] of Object.entries(given ?? {})) {
    fields[key] = { sense: field.sense ?? "is", values: field.values ?? [] };
  }
  const draft = { ...draftOf(), ...said, ...metadata, fields };
  return { ...draft, state: said.state ?? stateOf(draft) };
}

/** All that a new rule says, of which only what is not as in a blank one is known. */
export function added(patch: RulePatch): RulePatch {
  const { verdict, state, logging } = draftOf();
  return { verdict, state, logging, ...patch };
}

/** A new rule takes part once it says what it is about; one that says nothing would be about everything. */
export function stateOf(draft: Draft): string {
  return Object.values(draft.fields).some((field) => field.values.length > 0) ? "on" : "off";
}

/** A new rule with other fields: switched on by its first value, and off again without any. */
export function withFields(draft: Draft, fields: Draft["fields"]): Draft {
  const next = { ...draft, fields };
  // Whoever switched it themselves meant it.
  return draft.state === stateOf(draft) ? { ...next, state: stateOf(next) } : next;
}

/** What two people changed of one rule to different things: what each says, and the draft with theirs. */
export type Conflict = { label: string; mine: string; theirs: string; take: (draft: Draft) => Draft };

const TEXTS = [
  "name",
  "note",
  "owner",
  "changes",
  "reviewBy",
  "verdict",
  "sheet",
  "logging",
  "ports",
  "state",
] as const;

/** What of an open rule somebody else has changed since to something else than it says here, field by field. */
export function conflicts(before: Draft, mine: Draft, theirs: Draft): Conflict[] {
  const both = (was: unknown, own: unknown, other: unknown) => {
    const [a, b, c] = [was, own, other].map((one) => JSON.stringify(one));
    return a !== b && a !== c && b !== c;
  };
  const field = (draft: Draft, key: string) => draft.fields[key] ?? NOTHING;
  const said = ({ sense, values }: RuleField) =>
    values.length === 0 ? "any" : (sense === "is not" ? "not " : "") + values.join(", ");
  return [
    ...TEXTS.filter((key) => both(before[key], mine[key], theirs[key])).map((key) => ({
      label: key,
      mine: mine[key] || "nothing",
      theirs: theirs[key] || "nothing",
      take: (draft: Draft) => ({ ...draft, [key]: theirs[key] }),
    })),
    ...FIELDS.filter(({ key }) => both(field(before, key), field(mine, key), field(theirs, key))).map(
      ({ key }) => ({
        label: key.replace(".", " "),
        mine: said(field(mine, key)),
        theirs: said(field(theirs, key)),
        take: (draft: Draft) => ({
          ...draft,
          fields: { ...draft.fields, [key]: field(theirs, key) },
        }),
      }),
    ),
  ];
}

/** Whether there is anything in a draft that would be missed. */
export function isWritten(draft: Draft | undefined): boolean {
  return draft !== undefined && JSON.stringify(draft) !== JSON.stringify(begun(undefined));
}

/** What a clone of a rule says to begin with: it is on, and says where it came from. */
export function cloneOf(rule: Rule): RulePatch {
  const { name, note, number, fields, ports, outcome, sheet, logging, metadata } = rule;
  return {
    name: `${name} (copy)`.trim(),
    note: `Copied from rule ${number}${name && ` (${name})`}. ${note}`.trim(),
    fields,
    ports,
    verdict: outcome,
    sheet: sheet ?? "",
    logging,
    metadata,
    state: "on",
  };
}

/** Only what differs, so that two people who change different parts of a rule do not undo each other's work. */
export function difference(before: Draft, after: Draft): RulePatch {
  const patch: RulePatch = {};
  for (const key of ["name", "note", "verdict", "sheet", "logging", "ports", "state"] as const) {
    if (before[key] !== after[key]) patch[key] = after[key];
  }
  for (const key of ["owner", "changes", "reviewBy"] as const) {
    if (before[key] !== after[key]) patch.metadata = { ...patch.metadata, [key]: after[key] };
  }
  const fields: Record<string, RuleField> = {};
  for (const { key } of FIELDS) {
    const old = before.fields[key] ?? NOTHING;
    const next = after.fields[key] ?? NOTHING;
    if (JSON.stringify(old) !== JSON.stringify(next)) fields[key] = next;
  }
  if (Object.keys(fields).length > 0) patch.fields = fields;
  return patch;
}
