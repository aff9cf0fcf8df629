import type { Rulebase, Step } from "../api/client";
import { calledIn, moveChapterStep, moveStep, rules } from "../rules/order";
import type { Edit } from "./useSent";

/** What one key does at once; without an edit where it can do nothing. */
export type Command = { label: string; edit?: Edit };

export type Commands = Record<"moveUp" | "moveDown" | "switching" | "remove", Command>;

/**
 * What can be done at once to the selected line, a rule or a chapter. Keys may be pressed faster than edits are made, so
 * where something goes, and what it is called, is worked out when its turn comes.
 */
export function commands(
  rulebase: Rulebase,
  selected = "",
  chosen: ReadonlySet<string> = new Set(),
): Commands {
  if (chosen.size > 0) return commandsOfMany(rulebase, chosen);
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
    : { op: "REMOVE_CHAPTER", id: chapter?.id ?? "" };
  const to = rule?.state === "off" ? "on" : "off";
  const any = rule || chapter;
  return {
    moveUp: { label: "Up", edit: any && moving(-1) },
    moveDown: { label: "Down", edit: any && moving(1) },
    switching: {
      label: `Switch ${to}`,
      edit: rule && {
        what: (now) => `switched ${called(now)} ${to}`,
        steps: [{ op: "CHANGE_RULE", id: rule.id, rule: { state: to } }],
      },
    },
    remove: {
      label: "Remove",
      edit: any && { what: (now) => `removed ${called(now)}`, steps: [removing] },
    },
  };
}

/** The same for several rules that are chosen: each key works on all of them, and says on how many. */
function commandsOfMany(rulebase: Rulebase, chosen: ReadonlySet<string>): Commands {
  const all = (now: Rulebase) => rules(now).filter(({ id }) => chosen.has(id));
  const some = all(rulebase);
  const many = some.length === 1 ? "1 rule" : `${some.length} rules`;
  const to = some.some(({ state }) => state === "on") ? "off" : "on";
  const any = some.length > 0;
  return {
    moveUp: {
      label: `Up (${many})`,
      edit: any ? { what: `moved ${many} up`, steps: (now) => movesOfMany(now, chosen, -1) } : undefined,
    },
    moveDown: {
      label: `Down (${many})`,
      edit: any ? { what: `moved ${many} down`, steps: (now) => movesOfMany(now, chosen, 1) } : undefined,
    },
    switching: {
      label: `Switch ${many} ${to}`,
      edit: any
        ? {
            what: `switched ${many} ${to}`,
            steps: (now) =>
              all(now)
                .filter(({ state }) => state !== to)
                .map(({ id }) => ({ op: "CHANGE_RULE", id, rule: { state: to } })),
          }
        : undefined,
    },
    remove: {
      label: `Remove ${many}`,
      edit: any
        ? { what: `removed ${many}`, steps: (now) => all(now).map(({ id }) => ({ op: "REMOVE_RULE", id })) }
        : undefined,
    },
  };
}

/** Each chosen rule goes past its next neighbour that is not chosen; those at the end stay there. */
function movesOfMany(rulebase: Rulebase, chosen: ReadonlySet<string>, by: -1 | 1): Step[] {
  return rulebase.chapters.flatMap((chapter) => {
    const ids = chapter.rules.map(({ id }) => id);
    if (by > 0) ids.reverse();
    const steps: Step[] = [];
    for (let at = 1; at < ids.length; at++) {
      const neighbour = ids[at - 1];
      if (!chosen.has(ids[at]) || chosen.has(neighbour)) continue;
      steps.push({
        op: "MOVE_RULE",
        id: ids[at],
        place: by < 0 ? { before: neighbour } : { after: neighbour },
      });
      [ids[at - 1], ids[at]] = [ids[at], neighbour];
    }
    return steps;
  });
}
