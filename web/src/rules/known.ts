import type { Chapter, Edited, InForce, Mark, Review, Rule, Rulebase, RuleReview, Said } from "../api/client";
import { rules } from "./order";

/** A finding in short, with the rule it is about. */
export type Finding = Mark & { rule: string };

const WORST_FIRST = ["error", "warning", "note", "quiet"];

/** What an edit makes of a rulebase; nothing if it was made on another revision than the one known. */
export function applied(rulebase: Rulebase, edited: Edited): Rulebase | undefined {
  if (edited.since !== rulebase.revision) return undefined;
  return {
    ...rulebase,
    revision: edited.revision,
    state: edited.state,
    faults: edited.faults,
    defaultVerdict: edited.defaultVerdict,
    chapters: counted(reordered(rulebase, edited)),
    sets: edited.sets ?? rulebase.sets,
    parts: edited.parts ?? rulebase.parts,
    undo: edited.undo,
    redo: edited.redo,
  };
}

const NO_MARKS: ReadonlyMap<string, string> = new Map();
const marks = new WeakMap<InForce, ReadonlyMap<string, string>>();

/** The rules of the draft that are not as in force: new, changed or moved; put together once. */
export function marksOf(inForce: InForce | undefined): ReadonlyMap<string, string> {
  if (!inForce) return NO_MARKS;
  const known = marks.get(inForce) ?? new Map(inForce.marks.map(({ rule, mark }) => [rule, mark]));
  marks.set(inForce, known);
  return known;
}

/** The ids of the rules that an edit was about, such as those it added. */
export function rulesIn({ entry }: Edited): string[] {
  return entry.touched.filter((noun) => noun.startsWith("rule:")).map((noun) => noun.slice("rule:".length));
}

/** The chapters with their rules numbered from the top. */
export function counted(chapters: Chapter[]): Chapter[] {
  let number = 0;
  return chapters.map((chapter) => {
    const inside = chapter.rules.map((rule) => {
      number++;
      // A rule that is the same stays the same object, so that its row need not be drawn again.
      return rule.number === number ? rule : { ...rule, number };
    });
    return inside.every((rule, at) => rule === chapter.rules[at]) ? chapter : { ...chapter, rules: inside };
  });
}

/** The chapters with what was changed in the place of what it was, not yet counted. */
function reordered(rulebase: Rulebase, edited: Edited): Chapter[] {
  const changed = new Map(edited.rules.map((rule) => [rule.id, rule]));
  if (!edited.order)
    return rulebase.chapters.map((chapter) =>
      chapter.rules.some((rule) => changed.has(rule.id))
        ? { ...chapter, rules: chapter.rules.map((rule) => changed.get(rule.id) ?? rule) }
        : chapter,
    );
  const known = new Map(rules(rulebase).map((rule) => [rule.id, rule]));
  const before = new Map(rulebase.chapters.map((chapter) => [chapter.id, chapter.rules]));
  const now = (id: string) => changed.get(id) ?? known.get(id);
  return edited.order.map(({ id, title, note, first, rules: told, last }) => {
    const was = before.get(id) ?? [];
    const kept = (rule: Rule) => changed.get(rule.id) ?? rule;
    const between = told.flatMap((rule) => now(rule) ?? []);
    return {
      id,
      title,
      note,
      rules: [...was.slice(0, first).map(kept), ...between, ...was.slice(was.length - last).map(kept)],
    };
  });
}

/** A review with what a later one says otherwise. */
export function later(before: Review | undefined, told: Review): Review {
  if (!told.since || !before || told.since !== before.state) return told;
  // Most edits change what is said of few rules, and many of none; ten thousand take a while to copy.
  const rules = Object.keys(told.rules).length === 0 ? before.rules : { ...before.rules, ...told.rules };
  return { ...told, since: undefined, rules };
}

const NOTHING: RuleReview = { findings: [] };

/** What the review says of one rule. */
export function ofRule(review: Review | undefined, rule: string): RuleReview {
  return review?.rules[rule] ?? NOTHING;
}

/** All findings, the worst first and those of equal weight in the order of the rules. */
export function worstFirst(rulebase: Rulebase, review: Review | undefined): Finding[] {
  const all = rules(rulebase).flatMap((rule) =>
    ofRule(review, rule.id).findings.map((mark) => ({ ...mark, rule: rule.id })),
  );
  return all.sort((a, b) => WORST_FIRST.indexOf(a.severity) - WORST_FIRST.indexOf(b.severity));
}

/** Whether a finding asks for something: it is not normal, and nobody has accepted it. */
export function isLoud(mark: Mark): boolean {
  return mark.severity !== "quiet" && !mark.accepted;
}

/** A finding's sentence, with rules by their numbers of now. */
export function sentence(said: Said[], number: (rule: string) => number | undefined): string {
  return said
    .map(
      (part) =>
        part.text ??
        numbered(
          (part.rules ?? []).map((rule) => number(rule) ?? 0),
          part.others ?? 0,
        ),
    )
    .join("");
}

/** A sentence of the server's in which rules are called by their numbers and names, not by their ids. */
export function inNames(text: string, rulebase: Rulebase | undefined): string {
  if (!rulebase || !text.includes("rule ")) return text;
  const known = new Map(rules(rulebase).map((rule) => [rule.id, rule]));
  return text.replace(/\brule ([\w.-]*\w)/g, (said, id) => {
    const rule = /^\d+$/.test(id) ? undefined : known.get(id);
    return rule ? `rule ${rule.number} ${rule.name}`.trim() : said;
  });
}

function numbered(numbers: number[], others: number): string {
  if (others > 0) return `rules ${numbers.join(", ")} and ${others} others`;
  if (numbers.length === 1) return `rule ${numbers[0]}`;
  return `rules ${numbers.slice(0, -1).join(", ")} and ${numbers.at(-1)}`;
}
