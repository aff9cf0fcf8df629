import type { Rulebase, Step } from "../api/client";
import { calledIn, moveChapterStep, moveStep, rules } from "./order";
import type { Edit } from "./useSent";

/** What one key does at once; without an edit where it can do nothing. */
export type Deed = { label: string; key: string; edit?: Edit };

export type Deeds = Record<"up" | "down" | "switching" | "removing", Deed>;

/**
 * What can be done at once to the selected line, a rule or a chapter. Keys may be pressed faster than edits are made, so
 * where something goes, and what it is called, is worked out when its turn comes.
 */
export function deeds(rulebase: Rulebase, selected = ""): Deeds {
  const rule = rules(rulebase).find(({ id }) => id === selected);
  const chapter = rulebase.chapters.find(({ id }) => selected === `chapter ${id}`);
  const called = (now: Rulebase) => calledIn(now, selected);
  const moving = (by: -1 | 1): Edit => ({
    what: (now) => `moved ${called(now)}`,
    steps: (now) =>
      [rule ? moveStep(now, rule.id, by) : moveChapterStep(now, chapter?.id ?? "", by)].filter(
        (step) => step !== undefined,
      ),
  });
  const removing: Step = rule
    ? { op: "REMOVE_RULE", id: rule.id }
    : { op: "REMOVE_CHAPTER", id: chapter?.id };
  const to = rule?.state === "off" ? "on" : "off";
  const any = rule || chapter;
  return {
    up: { label: "Up", key: "Alt ↑", edit: any && moving(-1) },
    down: { label: "Down", key: "Alt ↓", edit: any && moving(1) },
    switching: {
      label: `Switch ${to}`,
      key: "x",
      edit: rule && {
        what: (now) => `switched ${called(now)} ${to}`,
        steps: [{ op: "CHANGE_RULE", id: rule.id, rule: { state: to } }],
      },
    },
    removing: {
      label: "Remove",
      key: "Del",
      edit: any && { what: (now) => `removed ${called(now)}`, steps: [removing] },
    },
  };
}
