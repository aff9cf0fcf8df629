import type { Rule, Rulebase } from "../api/client";
import { rules } from "../rules/order";

/** One line of two rulebases side by side. */
export type Pair = { kind: "same" | "gone" | "come" | "changed"; before?: Rule; after?: Rule };

/** Neighbouring lines of which some differ, with a little around them. */
export type Hunk = { key: string; lines: Pair[] };

const AROUND = 1;

/**
 * What differs between two revisions, in order; a rule that moved is gone in one place and has come in another.
 * `touched` are those that were edited in between: of two that changed places it is they who moved.
 */
export function hunks(before: Rulebase, after: Rulebase, touched: ReadonlySet<string>): Hunk[] {
  const all = pairs(rules(before), rules(after), touched);
  const near = all.map((_, i) =>
    all.slice(Math.max(0, i - AROUND), i + AROUND + 1).some((line) => line.kind !== "same"),
  );
  const found: Hunk[] = [];
  all.forEach((line, i) => {
    if (!near[i]) return;
    if (i === 0 || !near[i - 1]) found.push({ key: String(i), lines: [] });
    found.at(-1)?.lines.push(line);
  });
  return found;
}

/** All lines side by side: rules that kept their order stand beside each other. */
export function pairs(before: Rule[], after: Rule[], touched: ReadonlySet<string> = new Set()): Pair[] {
  const place = new Map(before.map((rule, i) => [rule.id, i]));
  const places = after.map((rule) => place.get(rule.id) ?? -1);
  const kept = longestRising(places.map((at, i) => (touched.has(after[i].id) ? -1 : at)));
  alsoRising(places, kept);
  const all: Pair[] = [];
  let b = 0;
  after.forEach((rule, i) => {
    if (!kept.has(i)) {
      all.push({ kind: "come", after: rule });
      return;
    }
    const old = place.get(rule.id) ?? 0;
    while (b < old) all.push({ kind: "gone", before: before[b++] });
    all.push({ kind: says(before[b]) === says(rule) ? "same" : "changed", before: before[b++], after: rule });
  });
  while (b < before.length) all.push({ kind: "gone", before: before[b++] });
  return all;
}

/** Everything about a rule but its number. */
function says({ number: _, ...rule }: Rule): string {
  return JSON.stringify(rule);
}

const PLAIN = ["name", "state", "logging", "ports", "outcome", "sheet", "note"] as const;

/** What two states of a rule say differently besides their fields, each as it is on one side. */
export function differences(rule: Rule, other: Rule): string[] {
  const said = PLAIN.filter((key) => (rule[key] ?? "") !== (other[key] ?? "")).map(
    (key) => `${key}: ${rule[key] || "none"}`,
  );
  const words = { owner: "owner", changes: "changes", reviewBy: "look again by" } as const;
  for (const key of ["owner", "changes", "reviewBy"] as const) {
    if ((rule.metadata?.[key] ?? "") !== (other.metadata?.[key] ?? ""))
      said.push(`${words[key]}: ${rule.metadata?.[key] || "none"}`);
  }
  return said;
}

/** Adds to the indices of a rising run those others that fit into it. */
function alsoRising(numbers: number[], run: Set<number>): void {
  const next: number[] = [];
  let least = Number.POSITIVE_INFINITY;
  for (let i = numbers.length - 1; i >= 0; i--) {
    next[i] = least;
    if (run.has(i)) least = numbers[i];
  }
  let most = -1;
  numbers.forEach((number, i) => {
    if (number > most && number < next[i]) run.add(i);
    if (run.has(i)) most = number;
  });
}

/** The indices of a longest rising run of numbers that are 0 or more, by patience sorting. */
function longestRising(numbers: number[]): Set<number> {
  const tops: number[] = [];
  const below: number[] = [];
  numbers.forEach((number, i) => {
    if (number < 0) return;
    let low = 0;
    let high = tops.length;
    while (low < high) {
      const mid = (low + high) >> 1;
      if (numbers[tops[mid]] < number) low = mid + 1;
      else high = mid;
    }
    below[i] = low === 0 ? -1 : tops[low - 1];
    tops[low] = i;
  });
  const run = new Set<number>();
  for (let i = tops.at(-1) ?? -1; i >= 0; i = below[i]) run.add(i);
  return run;
}
