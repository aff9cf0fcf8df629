import type { DecryptionRule, Lane, NamedSet, Notice, Rates, Rulebase, Sheet } from "../api/client";
import { said } from "../shared/rates";

/** Something besides the rules that two revisions say differently: lines that are gone and lines that have come. */
export type PartChange = { what: string; kind: "gone" | "come" | "changed"; gone: string[]; come: string[] };

/** What a thing says, a line for each statement. */
type Read = Map<string, string[]>;

/**
 * What differs between two revisions besides the rules: chapters, sets, sheets, notices, lanes, what is decrypted,
 * and the default verdict.
 */
export function partChanges(before: Rulebase, after: Rulebase): PartChange[] {
  const old = read(before);
  const next = read(after);
  const changes: PartChange[] = [];
  for (const what of new Set([...old.keys(), ...next.keys()])) {
    const was = old.get(what);
    const is = next.get(what);
    const gone = (was ?? []).filter((line) => !is?.includes(line));
    const come = (is ?? []).filter((line) => !was?.includes(line));
    if (gone.length + come.length === 0 && was && is) continue;
    changes.push({ what, kind: !is ? "gone" : !was ? "come" : "changed", gone, come });
  }
  const order = (rulebase: Rulebase) => rulebase.chapters.map((chapter) => chapter.id);
  const both = (ids: string[], others: string[]) => ids.filter((id) => others.includes(id));
  const was = both(order(before), order(after));
  const is = both(order(after), order(before));
  if (was.join() !== is.join()) {
    const titles = (ids: string[], of: Rulebase) =>
      ids.map((id) => of.chapters.find((chapter) => chapter.id === id)?.title ?? id).join(", ");
    changes.push({
      what: "the order of the chapters",
      kind: "changed",
      gone: [titles(was, before)],
      come: [titles(is, after)],
    });
  }
  return changes;
}

function read(rulebase: Rulebase): Read {
  const { parts } = rulebase;
  return new Map([
    ["the default verdict", [rulebase.defaultVerdict]],
    ...rulebase.chapters.map((chapter): [string, string[]] => [
      `the chapter ${chapter.title || chapter.id}`,
      noted(chapter.note),
    ]),
    ...rulebase.sets.map((set): [string, string[]] => [`the set ${set.name}`, ofSet(set)]),
    ...parts.sheets.map((sheet): [string, string[]] => [`the usage sheet ${sheet.name}`, ofSheet(sheet)]),
    ...parts.notices.map((notice): [string, string[]] => [`the notice ${notice.name}`, ofNotice(notice)]),
    ...parts.lanes.map((lane): [string, string[]] => [`the lane ${lane.name}`, ofLane(lane)]),
    ...parts.decryption.map((line, at): [string, string[]] => [
      `what is decrypted: ${line.id}`,
      ofDecryption(line, parts.decryption[at - 1]),
    ]),
    ["what the link carries", [rates(parts.capacity)]],
  ]);
}

const noted = (note?: string) => (note ? [`note: ${note}`] : []);

function rates(both?: Rates): string {
  return `up ${said(both?.up)}, down ${said(both?.down)}`;
}

function ofSet(set: NamedSet): string[] {
  return [...set.values, ...noted(set.note)];
}

function ofSheet(sheet: Sheet): string[] {
  const lines = (sheet.lines ?? []).map((line) => `${line.about}: ${line.outcome}`);
  return [...lines, `otherwise: ${sheet.otherwise}`, ...noted(sheet.note)];
}

function ofNotice(notice: Notice): string[] {
  return [`verdict: ${notice.verdict}`, `text: ${notice.text}`];
}

function ofLane(lane: Lane): string[] {
  const clients = lane.clients ? [`clients: ${lane.clients}`] : [];
  return [
    `for: ${lane.scope}`,
    `ceiling: ${rates(lane.ceiling)}`,
    `guarantee: ${rates(lane.guarantee)}`,
    ...clients,
    ...noted(lane.note),
  ];
}

function ofDecryption(line: DecryptionRule, above?: DecryptionRule): string[] {
  const fields = Object.entries(line.fields ?? {}).map(
    ([key, field]) =>
      `${key.replace(".", " ")}${field.sense === "is not" ? " not" : ""} ${(field.values ?? []).join("; ")}`,
  );
  const decision = line.decision === "decrypt" ? "decrypted" : "left encrypted";
  return [decision, ...fields, above ? `after ${above.id}` : "first of all", ...noted(line.note)];
}
