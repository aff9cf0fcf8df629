import type { Chapter, Rule, Rulebase, StepOf } from "../api/client";

/** One line of the stack. */
export type Line =
  | { kind: "chapter"; id: string; chapter: Chapter }
  | { kind: "rule"; id: string; rule: Rule; chapter: string }
  | { kind: "gap"; id: string; count: number }
  | { kind: "draft"; id: string; chapter: string }
  | { kind: "last"; id: string };

/** Where a draft rule will go, in the words of an edit step. */
export type Place = { after?: string; before?: string; chapter?: string };

export const DEFAULT_VERDICT = "default verdict";
export const DRAFT = "draft";

/**
 * All lines from the top; folded chapters show only their title. Where only some rules are shown, a gap stands for
 * those left out between two of them, so that nobody takes neighbours on the screen for neighbours.
 */
export function lines(
  rulebase: Rulebase,
  folded: ReadonlySet<string>,
  draft?: Place,
  shown?: (rule: Rule) => boolean,
): Line[] {
  const all: Line[] = [];
  let left = 0;
  const gap = () => {
    if (left > 0) all.push({ kind: "gap", id: `gap ${all.length}`, count: left });
    left = 0;
  };
  const push = (chapter: string) => all.push({ kind: "draft", id: DRAFT, chapter });
  for (const chapter of rulebase.chapters) {
    if (!shown || chapter.rules.some(shown)) {
      gap();
      all.push({ kind: "chapter", id: `chapter ${chapter.id}`, chapter });
    }
    if (folded.has(chapter.id)) continue;
    for (const rule of chapter.rules) {
      if (shown && !shown(rule)) {
        left++;
        continue;
      }
      gap();
      if (draft?.before === rule.id) push(chapter.id);
      all.push({ kind: "rule", id: rule.id, rule, chapter: chapter.id });
      if (draft?.after === rule.id) push(chapter.id);
    }
    if (draft?.chapter === chapter.id) push(chapter.id);
  }
  gap();
  all.push({ kind: "last", id: DEFAULT_VERDICT });
  return all;
}

/** All rules from the top. */
export function rules(rulebase: Rulebase): Rule[] {
  return rulebase.chapters.flatMap((chapter) => chapter.rules);
}

/** The id of the line that many lines further on that can be selected. */
export function neighbour(all: Line[], id: string | undefined, by: number): string | undefined {
  const selectable = all.filter((line) => line.kind !== "draft" && line.kind !== "gap");
  const at = selectable.findIndex((line) => line.id === id);
  if (at < 0) return selectable[0]?.id;
  return selectable[Math.max(0, Math.min(selectable.length - 1, at + by))].id;
}

/**
 * The step that moves a rule up (−1) or down (+1) by one place. At the edge of its chapter it moves into the
 * neighbouring one; at the edge of the rulebase there is none.
 */
export function moveStep(rulebase: Rulebase, id: string, by: -1 | 1): StepOf<"MOVE_RULE"> | undefined {
  const chapters = rulebase.chapters;
  const c = chapters.findIndex((chapter) => chapter.rules.some((rule) => rule.id === id));
  if (c < 0) return undefined;
  const inside = chapters[c].rules;
  const at = inside.findIndex((rule) => rule.id === id);
  const next = inside[at + by];
  if (next) return move(id, by < 0 ? { before: next.id } : { after: next.id });
  const chapter = chapters[c + by];
  if (!chapter) return undefined;
  const first = chapter.rules[0];
  return move(id, by < 0 || !first ? { chapter: chapter.id } : { before: first.id });
}

/** The step that moves a chapter with its rules past its neighbour. */
export function moveChapterStep(
  rulebase: Rulebase,
  id: string,
  by: -1 | 1,
): StepOf<"MOVE_CHAPTER"> | undefined {
  const at = rulebase.chapters.findIndex((chapter) => chapter.id === id);
  const other = rulebase.chapters[at + by];
  if (at < 0 || !other) return undefined;
  return { op: "MOVE_CHAPTER", id, place: by < 0 ? { before: other.id } : { after: other.id } };
}

/** The place right below a rule, or, from a chapter's title, at its end. */
export function placeBelow(line: Line): Place {
  if (line.kind === "rule") return { after: line.id };
  return line.kind === "chapter" ? { chapter: line.chapter.id } : {};
}

/** What a line of the stack, a rule or a chapter, is called in a sentence about one revision. */
export function calledIn(rulebase: Rulebase, id: string): string {
  const chapter = rulebase.chapters.find((one) => id === `chapter ${one.id}`);
  if (chapter) return `chapter ${chapter.title}`;
  const rule = rules(rulebase).find((one) => one.id === id);
  return rule ? `rule ${rule.number} ${rule.name}`.trim() : "a rule that is gone";
}

/** The step that puts a rule where another one was dropped on. */
export function dropStep(rulebase: Rulebase, id: string, onto: string): StepOf<"MOVE_RULE"> | undefined {
  const order = rules(rulebase).map((rule) => rule.id);
  const from = order.indexOf(id);
  const to = order.indexOf(onto);
  if (from < 0 || to < 0 || from === to) return undefined;
  return move(id, from < to ? { after: onto } : { before: onto });
}

function move(id: string, place: Place): StepOf<"MOVE_RULE"> {
  return { op: "MOVE_RULE", id, place };
}

/** The next rule after this one that is marked, going round. */
export function nextMarked(
  rulebase: Rulebase,
  marked: { has: (rule: string) => boolean },
  id?: string,
): string | undefined {
  const order = rules(rulebase).map((rule) => rule.id);
  const start = id ? order.indexOf(id) + 1 : 0;
  return [...order.slice(start), ...order.slice(0, start)].find((rule) => marked.has(rule));
}

/** A number of connections in few letters, such as 3.2k. */
export function few(times: number): string {
  if (times < 1000) return String(times);
  const [scaled, unit] =
    times < 1e6 ? [times / 1e3, "k"] : times < 1e9 ? [times / 1e6, "M"] : [times / 1e9, "G"];
  return `${scaled < 10 ? scaled.toFixed(1) : Math.floor(scaled)}${unit}`;
}

/** How often something was hit, in few letters. */
export function hitsWord(times: number): string {
  if (times === 0) return "no hits";
  return times === 1 ? "1 hit" : `${few(times)} hits`;
}

/** A share as text that never rounds something to nothing or to all. */
export function percent(share: number): string {
  if (share === 0) return "0";
  if (share === 1) return "100";
  if (share < 0.001) return "<0.1";
  if (share > 0.999) return ">99.9";
  return (share * 100).toFixed(share < 0.1 || share > 0.99 ? 1 : 0);
}
