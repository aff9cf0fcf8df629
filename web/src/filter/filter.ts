import type { Rule } from "../api/client";
import { FIELDS } from "../rules/fields";
import type { Finding } from "../rules/known";

/** What a filter knows of a rule besides the rule itself. */
export type Known = {
  chapter: string;
  findings: Pick<Finding, "kind" | "severity" | "accepted">[];
  /** How often recorded traffic fell on it; nothing where none was recorded. */
  hits?: number;
  /** Whether it is not as in force: new, changed or moved. */
  mark?: string;
  /** For each value asked about, the rules that can match it; nothing while that is being worked out. */
  matching: (value: string) => ReadonlySet<string> | undefined;
};

/** One word of a filter: a key and what is wanted, or only text. */
export type Term = { key: string; wanted: string };

/** The keys a filter understands, and what each asks. */
export const KEYS: Record<string, string> = {
  match: "rules that can match an address, a person, an application …",
  names: "rules with this very value in a field",
  verdict: "allow, deny, reject, ask, stop or enrol",
  finding: "a kind of finding, or how it begins, or any",
  chapter: "part of a chapter's title",
  is: "on or off",
  hits: "recorded traffic: hits:0, hits > 100, hits < 5, none, or at least so many",
  draft: "what is not as in force: new, changed, moved or any",
  owner: "who answers for it",
};

/** Reads a filter: words, "quoted words" and key:wanted, each of which must hold. */
export function terms(text: string): Term[] {
  // "hits > 100" is one word like "hits:>100".
  return [
    ...text
      .replace(/\bhits\s*([<>=]=?)\s*(\d)/gi, "hits:$1$2")
      .matchAll(/(?:([a-z]+):)?(?:"([^"]*)"?|(\S+))/g),
  ]
    .map(([whole, key, quoted, word]) =>
      key && KEYS[key]
        ? { key, wanted: (quoted ?? word ?? "").toLowerCase() }
        : { key: "", wanted: (key ? whole : (quoted ?? word)).replaceAll('"', "").toLowerCase() },
    )
    .filter((term) => term.wanted !== "");
}

/** Whether a filter is a question in the words of the probe line, such as "from Offices to Internet using tcp/443". */
export function isQuestion(text: string): boolean {
  return /^\s*(from|to|as|on|using|at)\s+\S/i.test(text);
}

/** What is wrong with a filter's own words; what is misspelt must not look like something that no rule has. */
export function unknown(all: Term[]): string | undefined {
  for (const { key, wanted } of all) {
    const [, strange] = wanted.match(/^([a-z]+):/) ?? [];
    // A host name object, an IPv6 address and a URL hold colons too.
    if (!key && strange && !/^[0-9a-f]{1,4}$/.test(strange) && !wanted.includes("://"))
      return `There is no filter “${strange}:”. There are ${Object.keys(KEYS).join(", ")}; or ask in the words of the probe line, such as from Offices to Internet.`;
    if (key === "verdict" && !VERDICTS.includes(wanted))
      return `“${wanted}” is no verdict; verdicts are ${VERDICTS.join(", ")}.`;
    if (key === "draft" && !DRAFTED.includes(wanted))
      return `A rule of the draft is ${DRAFTED.slice(0, -1).join(", ")} or any of these, not “${wanted}”.`;
    if (key === "is" && wanted !== "on" && wanted !== "off") return `A rule is on or off, not “${wanted}”.`;
    if (key === "hits" && wanted !== "none" && !COUNT.test(wanted))
      return `Hits are compared with a number, such as hits = 0 or hits > 100, not “${wanted}”.`;
  }
  return undefined;
}

/** How often something happened: a comparison and a number; only a number is the least, and 0 is never. */
const COUNT = /^([<>=]=?)?(\d{1,15})$/;

export const VERDICTS = ["allow", "deny", "reject", "ask", "stop", "enrol"];

/** How a rule of the draft can differ from what is in force. */
export const DRAFTED = ["new", "changed", "moved", "any"];

/** The values whose rules the server has to be asked for. */
export function asked(all: Term[]): string[] {
  return all.filter((term) => term.key === "match").map((term) => term.wanted);
}

/** Whether a rule is meant by a filter. */
export function isMeant(rule: Rule, all: Term[], known: Known): boolean {
  return all.every((term) => holds(rule, term, known));
}

function holds(rule: Rule, { key, wanted }: Term, known: Known): boolean {
  switch (key) {
    case "verdict":
      return rule.verdict === wanted;
    case "is":
      return rule.state === wanted;
    case "owner":
      return (rule.metadata?.owner ?? "").toLowerCase().includes(wanted);
    case "chapter":
      return known.chapter.toLowerCase().includes(wanted);
    case "finding":
      return known.findings.some(
        (finding) =>
          !finding.accepted &&
          (wanted === "any" ? finding.severity !== "quiet" : finding.kind.startsWith(wanted)),
      );
    case "draft":
      return wanted === "any" ? known.mark !== undefined : known.mark === wanted;
    case "hits":
      return wanted === "none" ? !known.hits : compares(known.hits ?? 0, wanted);
    case "names":
      return values(rule).some((value) => value.toLowerCase() === wanted || bare(value) === wanted);
    case "match":
      return known.matching(wanted)?.has(rule.id) ?? true;
    default:
      return text(rule).includes(wanted);
  }
}

function compares(hits: number, wanted: string): boolean {
  const [, said, number = "0"] = wanted.match(COUNT) ?? [];
  const bound = Number(number);
  // "At least none" would be every rule, which nobody asks for.
  const sign = said ?? (bound === 0 ? "=" : ">=");
  if (sign.startsWith("=")) return hits === bound;
  if (sign === ">") return hits > bound;
  if (sign === ">=") return hits >= bound;
  return sign === "<" ? hits < bound : hits <= bound;
}

/** All values a rule names. */
export function values(rule: Rule): string[] {
  return FIELDS.flatMap(({ key }) => rule.fields[key]?.values ?? []);
}

function bare(value: string): string {
  return value.toLowerCase().replace(/^(set|group|family|category|host|country|list) /, "");
}

const texts = new WeakMap<Rule, string>();

/** Everything written in a rule; put together once. */
function text(rule: Rule): string {
  const known = texts.get(rule);
  if (known !== undefined) return known;
  const all = [
    rule.name,
    rule.note,
    rule.metadata?.changes,
    rule.metadata?.owner,
    rule.sheet,
    ...values(rule),
  ];
  const made = all.filter(Boolean).join("\n").toLowerCase();
  texts.set(rule, made);
  return made;
}
