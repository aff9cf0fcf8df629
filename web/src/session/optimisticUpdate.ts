import type { Chapter, Rule, Rulebase, Step } from "../api/client";
import { counted } from "../rules/known";
import type { Place } from "../rules/order";

/**
 * What steps will make of a rulebase, to be shown while the server keeps them. Only what was chosen and not typed is
 * foretold, for that is hardly ever refused: moving, taking out, switching on and off. Where one of the steps is of
 * another kind, or does not fit, the rulebase stays as it is until the server has answered.
 */
export function optimisticUpdate(rulebase: Rulebase, steps: Step[]): Rulebase {
  let chapters: Chapter[] | undefined = rulebase.chapters;
  for (const step of steps) chapters = chapters && taken(chapters, step);
  return !chapters || chapters === rulebase.chapters
    ? rulebase
    : { ...rulebase, chapters: counted(chapters) };
}

/** The chapters after a step; nothing if that cannot be told. */
function taken(chapters: Chapter[], step: Step): Chapter[] | undefined {
  switch (step.op) {
    case "MOVE_CHAPTER":
      return step.place ? movedChapter(chapters, step.id, step.place) : undefined;
    case "REMOVE_RULE":
      return known(chapters, step.id) && without(chapters, step.id);
    case "MOVE_RULE": {
      const moved = known(chapters, step.id);
      return moved && step.place ? put(without(chapters, step.id), moved, step.place) : undefined;
    }
    case "CHANGE_RULE": {
      const { id, rule } = step;
      const state = rule.state;
      if (!known(chapters, id) || !state || Object.keys(rule).length > 1) return undefined;
      return inside(chapters, id, (rules) => rules.map((old) => (old.id === id ? { ...old, state } : old)));
    }
    default:
      return undefined;
  }
}

function known(chapters: Chapter[], id: string): Rule | undefined {
  return chapters.flatMap((chapter) => chapter.rules).find((rule) => rule.id === id);
}

/** The chapters with other rules in the one that holds a rule. */
function inside(chapters: Chapter[], id: string, change: (rules: Rule[]) => Rule[]): Chapter[] {
  return chapters.map((chapter) =>
    chapter.rules.some((rule) => rule.id === id) ? { ...chapter, rules: change(chapter.rules) } : chapter,
  );
}

function without(chapters: Chapter[], id: string): Chapter[] {
  return inside(chapters, id, (rules) => rules.filter((rule) => rule.id !== id));
}

function put(chapters: Chapter[], moved: Rule, place: Place): Chapter[] | undefined {
  const beside = place.after ?? place.before;
  const into = chapters.find(({ id, rules }) =>
    beside === undefined ? id === place.chapter : rules.some((rule) => rule.id === beside),
  );
  if (!into) return undefined;
  const rules = beside === undefined ? [...into.rules, moved] : placed(into.rules, moved, place);
  return chapters.map((chapter) => (chapter === into ? { ...chapter, rules } : chapter));
}

function movedChapter(chapters: Chapter[], id: string, place: Place): Chapter[] | undefined {
  const moved = chapters.find((chapter) => chapter.id === id);
  const others = chapters.filter((chapter) => chapter.id !== id);
  const beside = place.after ?? place.before;
  return moved && others.some((chapter) => chapter.id === beside) ? placed(others, moved, place) : undefined;
}

/** The list with one more right below or above another, which is in it. */
function placed<T extends { id: string }>(list: T[], moved: T, place: Place): T[] {
  const at = list.findIndex((one) => one.id === (place.after ?? place.before)) + (place.after ? 1 : 0);
  return [...list.slice(0, at), moved, ...list.slice(at)];
}
