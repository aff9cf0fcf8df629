import { useMemo, useState } from "react";
import { lasting } from "./storage";

/** What columns of a table hold, by their headings, as far as somebody has said so. */
export type ColumnChoices = Record<string, string>;

const MOST_TABLES = 30;
const KEY = "columns.";

/** What was chosen for tables of a kind, by their headings, the last one first. */
function tables(kind: string): [string, ColumnChoices][] {
  try {
    const kept: unknown = JSON.parse(lasting.get(KEY + kind) ?? "[]");
    return Array.isArray(kept) ? kept.filter((one) => Array.isArray(one) && typeof one[1] === "object") : [];
  } catch {
    return [];
  }
}

/** What was chosen for a table with just these headings; nothing if there was none. */
export function keptChoices(kind: string, headings: string[]): ColumnChoices | undefined {
  const wanted = JSON.stringify(headings);
  return tables(kind).find(([headings]) => headings === wanted)?.[1];
}

/** Keeps in this browser what was chosen for a table; where nothing was, what was kept is forgotten. */
export function keepChoices(kind: string, headings: string[], chosen: ColumnChoices): void {
  const wanted = JSON.stringify(headings);
  const others = tables(kind).filter(([headings]) => headings !== wanted);
  const all = Object.keys(chosen).length > 0 ? [[wanted, chosen], ...others] : others;
  lasting.set(KEY + kind, JSON.stringify(all.slice(0, MOST_TABLES)));
}

/**
 * What the columns of a table hold: what somebody says now, or said of the last table with the same headings.
 *
 * @param headings of the table; nothing before they are known
 */
export function useColumnChoices(kind: string, headings: string[] | undefined) {
  const [said, setSaid] = useState<ColumnChoices>();
  const names = JSON.stringify(headings ?? []);
  const kept = useMemo(() => keptChoices(kind, JSON.parse(names)), [kind, names]);
  const chosen = said ?? kept ?? {};
  return {
    chosen,
    /** Whether they are those of an earlier table, and nobody has said anything since. */
    isAsBefore: said === undefined && kept !== undefined,
    choose: setSaid,
    keep: () => headings && keepChoices(kind, headings, chosen),
  };
}
