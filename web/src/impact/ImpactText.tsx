import type { Impact, ImpactKind } from "../api/client";
import { grouped } from "../base/grouped";
import { Plate } from "../rules/Plate";

/** Whether a change has happened, or would. */
type Tense = "is" | "would be";

/** What is read of an impact, of one rulebase or of one among many. */
type Told = Pick<Impact, "complete" | "kinds" | "ended" | "begun" | "broken" | "mended"> & {
  recorded?: Impact["recorded"];
  oversubscribed?: string[];
};

type Props = {
  impact: Told;
  tense: Tense;
  named: (rule: string) => string;
  /** Drops a witness of one kind. */
  drop: (probe: string) => void;
  children?: React.ReactNode;
};

/** What a change does, worst first: findings and promises in a sentence, then each kind of connections. */
export function ImpactText({ impact, tense, named, drop, children }: Props) {
  const { kinds, begun, broken, mended } = impact;
  return (
    <div className="text-xs" data-impact={kinds.length}>
      <Broken broken={broken} tense={tense} />
      {impact.oversubscribed?.map((sentence) => (
        <p key={sentence} className="font-medium text-madder">
          {sentence}
        </p>
      ))}
      <p className="font-medium">
        {kindsWord(impact, tense)} {endedWord(impact)}
        {begun.length > 0 && ` New: ${begunWord(begun, named)}.`}
      </p>
      {begun.length > FEW && (
        <details>
          <summary className="min-h-6 cursor-pointer py-0.5 text-dim">
            The {begun.length} new findings
          </summary>
          <ul className="pl-4">
            {begun.map((notice) => (
              <li key={`${notice.rule} ${notice.kind}`}>
                {named(notice.rule)} {notice.kind}
              </li>
            ))}
          </ul>
        </details>
      )}
      {children}
      {impact.recorded && <RecordedChange recorded={impact.recorded} tense={tense} drop={drop} />}
      {mended.length > 0 && <p className="font-medium">Kept again: {mended.join(", ")}.</p>}
      {kinds.slice(0, FEW).map((kind) => (
        <Kind key={kind.probe + kind.after.outcome} kind={kind} drop={drop} />
      ))}
      {grouped(kinds.slice(FEW), change).map(([verdicts, some]) => (
        <details key={verdicts} className="mt-1 border-paper-edge border-t pt-1">
          <summary className="cursor-pointer">
            {verdicts}: {some.length} more {some.length === 1 ? "group" : "groups"}
          </summary>
          {some.map((kind) => (
            <Kind key={kind.probe + kind.after.outcome} kind={kind} drop={drop} />
          ))}
        </details>
      ))}
    </div>
  );
}

type RecordedProps = {
  recorded: Impact["recorded"];
  tense: Tense;
  drop: (probe: string) => void;
};

/** How many recorded connections get another verdict, whose, and each of them a click away. */
function RecordedChange({ recorded, tense, drop }: RecordedProps) {
  const { times, besideVerdict, people, names, lines, more } = recorded;
  if (times === 0) return null;
  const get = tense === "is" ? (times === 1 ? "gets" : "get") : "would get";
  return (
    <details aria-label="Recorded traffic">
      <summary className="min-h-6 cursor-pointer py-0.5 font-medium">
        {times.toLocaleString("en")} recorded {times === 1 ? "connection" : "connections"}
        {people > 0 && ` of ${people === 1 ? "1 person" : `${people} people`}`} {get}{" "}
        {besideVerdict < times ? "another verdict" : "another lane or notice with the same verdict"}.
        {besideVerdict > 0 &&
          besideVerdict < times &&
          ` ${besideVerdict.toLocaleString("en")} of them only another lane or notice.`}
      </summary>
      {names.length > 0 && (
        <p className="text-dim">
          {names.join(", ")}
          {people > names.length && ` and ${people - names.length} more`}
        </p>
      )}
      <ul>
        {lines.map((line) => (
          <li key={`${line.probe} ${line.before}`}>
            {line.times.toLocaleString("en")}× {line.before} → {line.after}: {line.probe}{" "}
            <button type="button" className="text-rust underline" onClick={() => drop(line.probe)}>
              try it
            </button>
          </li>
        ))}
      </ul>
      {more > 0 && <p className="text-dim">… and {more.toLocaleString("en")} more</p>}
    </details>
  );
}

/** So many are read in full; of more, the rest is folded by what they have in common. */
const FEW = 3;

/** New findings: each by its rule, or of many how many of each kind. */
function begunWord(begun: Impact["begun"], named: (rule: string) => string): string {
  if (begun.length <= FEW) return begun.map(({ rule, kind }) => `${named(rule)} ${kind}`).join(", ");
  return grouped(begun, ({ kind }) => kind)
    .map(([kind, some]) => `${some.length} ${kind}`)
    .join(", ");
}

/** The verdicts that a group of connections had and gets. */
const change = ({ before, after }: ImpactKind) => `${before.verdict} → ${after.verdict}`;

/** How many groups of connections get another verdict; `more` where that need not be all of them. */
export function kindsWord(
  { kinds, complete }: Pick<Impact, "kinds" | "complete">,
  tense: Tense,
  more = "working it all out took too long",
): string {
  const perhaps = complete ? "" : `, and perhaps more: ${more}`;
  const gets = tense === "is" ? "gets" : "would get";
  if (kinds.length === 0) return `No connection ${gets} another verdict${perhaps}.`;
  const get = tense === "is" && kinds.length > 1 ? "get" : gets;
  return `${counted(kinds.length, "group")} of connections ${get} another verdict${perhaps}.`;
}

/** The promises that a change breaks, by name. */
export function Broken({ broken, tense }: { broken: string[]; tense: Tense }) {
  if (broken.length === 0) return null;
  return (
    <p className="font-medium text-madder">
      {tense === "is" ? "Broke" : "Breaks"} {promises(broken)}.
    </p>
  );
}

function endedWord({ ended }: Told): string {
  if (ended.length === 0) return "";
  return `${counted(ended.length, "finding")} ${ended.length === 1 ? "ends" : "end"}.`;
}

function promises(names: string[]): string {
  return `${names.length === 1 ? "a promise" : `${names.length} promises`}: ${names.join(", ")}`;
}

/** What a change does, in a few words for a line that has no room for more; the gravest first. */
export function inShort(impact: Impact, tense: Tense): string {
  const { kinds, ended, begun, broken, mended, recorded } = impact;
  const done = tense === "is";
  const said = [
    broken.length > 0 && `${done ? "broke" : "breaks"} ${promises(broken)}`,
    kinds.length === 0
      ? "every connection is decided as before"
      : `${counted(kinds.length, "group")} of connections with another verdict`,
    recorded.times > 0 && `${recorded.times.toLocaleString("en")} recorded ones among them`,
    begun.length > 0 && counted(begun.length, "new finding"),
    ended.length > 0 && `${counted(ended.length, "finding")} ${done ? "ended" : "fewer"}`,
    mended.length > 0 && `kept again: ${mended.join(", ")}`,
  ];
  return said.filter(Boolean).join(" · ");
}

function counted(count: number, thing: string): string {
  return `${count} ${thing}${count === 1 ? "" : "s"}`;
}

type KindProps = { kind: ImpactKind; drop: (probe: string) => void };

/** One kind of connection that gets another verdict. */
export function Kind({ kind, drop }: KindProps) {
  return (
    <p className="mt-1 border-paper-edge border-t pt-1">
      <span className="inline-flex items-center gap-1.5 align-middle">
        <Plate verdict={kind.before.verdict} /> <span aria-hidden="true">→</span>
        <span className="sr-only">becomes</span> <Plate verdict={kind.after.verdict} />
      </span>{" "}
      {kind.after.outcome !== kind.after.verdict && <b>{kind.after.outcome} </b>}
      {kind.before.outcome !== kind.before.verdict && (
        <span className="text-dim">was {kind.before.outcome} </span>
      )}
      {kind.words.length === 0 && "everything else "}
      {kind.words.map((words) => (
        <span key={words.part}>
          <span className="text-dim">{words.part}</span> {words.text}{" "}
        </span>
      ))}
      <button type="button" className="text-rust underline" onClick={() => drop(kind.probe)}>
        try one
      </button>
    </p>
  );
}
