import { useQuery } from "@tanstack/react-query";
import { PanelRightClose } from "lucide-react";
import { memo, useMemo, useState } from "react";
import { api, type Finding, type Remedy, type Rule } from "../api/client";
import { focusOnOpen } from "../base/focusOnOpen";
import { grouped } from "../base/grouped";
import { Term } from "../base/Term";
import { moment } from "../base/times";
import { Bulk } from "../editor/Bulk";
import { splitSteps, splittable } from "../editor/bulk";
import { ProposedEdit } from "../impact/ProposedEdit";
import { FIELDS } from "../rules/fields";
import { isLoud, ofRule, sentence, worstFirst } from "../rules/known";
import { Rivet } from "../rules/Marks";
import { DEFAULT_VERDICT, percent } from "../rules/order";
import { Plate } from "../rules/Plate";
import { ResidueGauge } from "../rules/ResidueGauge";
import { showProbe, useAnswers, useEditing, useOpenRulebase } from "../session/contexts";
import { select, useSelected } from "../session/selection";
import { Caught } from "./Caught";
import { ChapterLens } from "./ChapterLens";
import { DefaultVerdictLens } from "./DefaultVerdictLens";
import { GatewayHits } from "./GatewayHits";
import { Part, WitnessButton } from "./LensPart";

type Props = {
  rule?: Rule;
  named: (id: string) => string;
  edit: (field: string) => void;
  fold: () => void;
  /** Several rules chosen to work on. */
  chosen: Rule[];
  clearChosen: () => void;
};

/** Everything about the selected rule: what it claims, who takes from it, what the review found, and why it is there. */
export const Lens = memo(function Lens({ rule, named, edit, fold, chosen, clearChosen }: Props) {
  const openRulebase = useOpenRulebase();
  const selected = useSelected();
  const chapter = openRulebase.rulebase?.chapters.find((one) => selected === `chapter ${one.id}`);
  const many = chosen.length > 1;
  const isLast = selected === DEFAULT_VERDICT;
  const about = rule ? `Rule ${rule.number}` : chapter ? "Chapter" : isLast ? "Default verdict" : "Lens";
  const title = many ? `${chosen.length} rules` : about;
  return (
    <aside
      aria-label="Lens"
      className="side flex w-[340px] shrink-0 flex-col overflow-y-auto border-edge border-l bg-plate"
    >
      <div className="flex items-center justify-between border-edge border-b px-3 py-1.5">
        <h2 className="font-semibold">{title === "Lens" ? <Term word="lens">Lens</Term> : title}</h2>
        <button type="button" className="press" aria-label="Fold the lens away" onClick={fold}>
          <PanelRightClose size={14} />
        </button>
      </div>
      {many ? (
        <Bulk chosen={chosen} named={named} clear={clearChosen} />
      ) : rule ? (
        <RuleLens rule={rule} named={named} edit={edit} />
      ) : chapter ? (
        <ChapterLens key={`${chapter.id} ${chapter.title} ${chapter.note}`} chapter={chapter} />
      ) : isLast ? (
        <DefaultVerdictLens key={openRulebase.rulebase?.defaultVerdict} />
      ) : (
        <Overview named={named} />
      )}
    </aside>
  );
});

/** More would make the list slow to draw, and nobody reads on. */
const MOST_SHOWN = 200;

type OfferProps = { remedy: Remedy; what: string };

/** An edit that would end a finding; it can only be done after its impact has been shown. */
function RemedyOffer({ remedy, what }: OfferProps) {
  const [open, setOpen] = useState(false);
  return (
    <div className="mt-1.5">
      <button
        type="button"
        className="press text-left text-xs"
        aria-expanded={open}
        onClick={() => setOpen(!open)}
      >
        Remedy: {remedy.words} …
      </button>
      {open && <ProposedEdit steps={remedy.steps} what={what} label="Apply" />}
    </div>
  );
}

type AcceptanceProps = { finding: Finding; named: (id: string) => string };

/** A finding can be accepted with a reason; it comes back when its rule says something else. */
function Acceptance({ finding, named }: AcceptanceProps) {
  const edits = useEditing();
  const openRulebase = useOpenRulebase();
  const [reason, setReason] = useState<string>();
  const send = (given: string) =>
    edits
      .edit({
        what: given
          ? `accepted that ${named(finding.rule)} is ${finding.kind}`
          : `no longer accepts that ${named(finding.rule)} is ${finding.kind}`,
        steps: [
          {
            op: "ACCEPT_FINDING",
            rule: finding.rule,
            kind: finding.kind,
            reason: given,
            who: openRulebase.who,
          },
        ],
      })
      .then(() => setReason(undefined))
      .catch(() => undefined);
  if (finding.accepted) {
    return (
      <p className="mt-1.5 text-xs">
        Accepted by {finding.accepted.who}: {finding.accepted.reason}{" "}
        <button type="button" className="text-rust underline" onClick={() => send("")}>
          Revert
        </button>
      </p>
    );
  }
  if (reason === undefined) {
    return (
      <button type="button" className="press mt-1.5 text-xs" onClick={() => setReason("")}>
        Accept it …
      </button>
    );
  }
  return (
    <form
      className="mt-1.5 flex gap-1"
      onSubmit={(event) => {
        event.preventDefault();
        if (reason.trim()) send(reason.trim());
      }}
    >
      <input
        ref={focusOnOpen}
        aria-label="Why this may stay"
        placeholder="why this may stay"
        value={reason}
        onChange={(event) => setReason(event.target.value)}
        onKeyDown={(event) => event.key === "Escape" && setReason(undefined)}
        className="min-w-0 flex-1 rounded border border-paper-edge bg-ground/40 px-2 py-0.5 text-xs placeholder:text-faint"
      />
      <button type="submit" className="press press-main text-xs" disabled={!reason.trim()}>
        Accept
      </button>
    </form>
  );
}

type RuleLensProps = Required<Pick<Props, "rule" | "named" | "edit">>;

function RuleLens({ rule, named, edit }: RuleLensProps) {
  const answers = useAnswers();
  const openRulebase = useOpenRulebase();
  const state = answers.review?.state;
  const detail = useQuery({
    queryKey: ["rule review", openRulebase.id, rule.id, state],
    queryFn: () => api.ruleReview(openRulebase.id, rule.id),
    enabled: state !== undefined,
    placeholderData: (before, query) => (query?.queryKey[2] === rule.id ? before : undefined),
  });
  const residue = detail.data?.residue;
  const gauge = ofRule(answers.review, rule.id).residue;
  const findings = detail.data?.findings ?? [];
  const loud = findings.filter((finding) => finding.severity !== "quiet");
  const quiet = findings.filter((finding) => finding.severity === "quiet");
  const stage = answers.fall;
  const misses = stage?.passed.find((pass) => pass.rule === rule.id)?.misses;
  const caught = stage?.caughtBy === rule.id ? stage.matches : undefined;
  return (
    <>
      <Part title="What it matches">
        <p className="font-medium">{rule.name || "unnamed rule"}</p>
        <p>{rule.sentence}</p>
        <p className="mt-1 flex items-center gap-3">
          <Plate verdict={rule.verdict} />
          {rule.outcome !== rule.verdict && (
            <span className="text-dim">{rule.outcome.slice(rule.verdict.length).trim()}</span>
          )}
          {rule.sheet && <span className="text-dim">by sheet {rule.sheet}</span>}
          {rule.state === "off" && <span className="text-dim">off: it takes no part</span>}
          <button type="button" className="press ml-auto text-xs" onClick={() => edit("from.zones")}>
            Edit
          </button>
        </p>
      </Part>
      {misses && (
        <Part title="Why the probe passed it">
          {misses.map((miss) => (
            <p key={miss.field + miss.wanted}>
              {miss.label} is <b>{miss.had}</b>; the rule wants {miss.wanted}.
            </p>
          ))}
        </Part>
      )}
      {caught && (
        <Part title="Why it caught the probe">
          {caught.length === 0 && <p>It matches everything.</p>}
          {caught.map((match) => (
            <p key={match.field}>
              {match.label} <b>{match.had}</b> is in {match.wanted}.
            </p>
          ))}
        </Part>
      )}
      {loud.map((finding) => (
        <Part
          key={finding.kind + finding.sentence}
          title={finding.accepted ? `${finding.kind}, accepted` : finding.kind}
        >
          <p className="flex gap-1.5">
            <span className="pt-0.5">
              <Rivet severity={finding.severity} />
            </span>
            <span>{finding.sentence}</span>
          </p>
          <details className="mt-0.5 text-xs">
            <summary className="cursor-pointer text-dim">What that means</summary>
            {finding.explanation.map((sentence) => (
              <p key={sentence} className="mt-1">
                {sentence}
              </p>
            ))}
          </details>
          {finding.evidence.map((evidence) => (
            <div key={evidence.rule} className="mt-1.5">
              {evidence.rule && (
                <button
                  type="button"
                  className="text-left underline decoration-edge"
                  onClick={() => select(evidence.rule)}
                >
                  {named(evidence.rule)}
                </button>
              )}
              {evidence.otherwise !== undefined && (
                <p className="text-dim text-xs">
                  gives {percent(evidence.otherwise)} % of it another verdict
                </p>
              )}
              {evidence.part && <p className="text-dim text-xs">where {evidence.part}</p>}
              <WitnessButton witness={evidence.witness} />
            </div>
          ))}
          {finding.remedies.map((remedy) => (
            <RemedyOffer
              key={remedy.words}
              remedy={remedy}
              what={`remedied ${named(rule.id)}: ${remedy.words.toLowerCase()}`}
            />
          ))}
          <Acceptance finding={finding} named={named} />
        </Part>
      ))}
      {residue && (
        <Part
          title={
            <>
              What is left of it: its <Term word="residue">residue</Term>
            </>
          }
        >
          <div className="w-40">{gauge && <ResidueGauge residue={gauge} named={named} />}</div>
          {residue.takers.slice(0, 12).map((taker) => (
            <p key={taker.rule} className="flex justify-between gap-2 text-xs">
              <button
                type="button"
                className="truncate text-left underline decoration-edge"
                onClick={() => select(taker.rule)}
              >
                {named(taker.rule)}
              </button>
              <span className="shrink-0 text-dim">
                {taker.verdict} {percent(taker.share)} %
              </span>
            </p>
          ))}
          {residue.takers.length > 12 && (
            <p className="text-dim text-xs">… and {residue.takers.length - 12} more</p>
          )}
          {residue.witness && <WitnessButton witness={residue.witness} />}
        </Part>
      )}
      {answers.hits && answers.hits.days > 0 && residue && (
        <Part title={`Recorded traffic, ${answers.hits.days} days`}>
          <Caught rule={rule.id} most={4} drop={showProbe} />
        </Part>
      )}
      {answers.inForce && (
        <Part title="On gateways">
          <GatewayHits rule={rule.id} />
        </Part>
      )}
      {quiet.length > 0 && (
        <Part title="Normal, but good to know">
          {quiet.map((finding) => (
            <p key={finding.kind} className="text-dim text-xs">
              {finding.sentence}
            </p>
          ))}
        </Part>
      )}
      <Part title="Notes">
        <p>{rule.note || <span className="text-dim">Nobody has written it down.</span>}</p>
        {rule.metadata && (
          <p className="mt-1 text-dim text-xs">
            {[
              rule.metadata.owner && `${rule.metadata.owner} answers for it`,
              rule.metadata.changes,
              rule.metadata.reviewBy && `look again by ${rule.metadata.reviewBy}`,
            ]
              .filter(Boolean)
              .join(" · ")}
          </p>
        )}
        <button type="button" className="press mt-1 text-xs" onClick={() => edit("words")}>
          Write
        </button>
      </Part>
      <Split rule={rule} named={named} />
      <History rulebase={openRulebase.id} rule={rule.id} />
    </>
  );
}

/** A rule with several values in a field can become several rules. */
function Split({ rule, named }: Pick<RuleLensProps, "rule" | "named">) {
  const [field, setField] = useState<string>();
  const fields = splittable(rule);
  if (fields.length === 0) return null;
  return (
    <Part title="Split it">
      <span className="flex flex-wrap gap-1">
        {fields.map((key) => (
          <button
            key={key}
            type="button"
            className="press text-xs"
            aria-pressed={field === key}
            onClick={() => setField(field === key ? undefined : key)}
          >
            by {FIELDS.find((info) => info.key === key)?.label}, into {rule.fields[key].values.length}
          </button>
        ))}
      </span>
      {field && fields.includes(field) && (
        <ProposedEdit steps={splitSteps(rule, field)} what={`split ${named(rule.id)}`} label="Split it" />
      )}
    </Part>
  );
}

const MOST_EDITS = 8;

function History({ rulebase, rule }: { rulebase: string; rule: string }) {
  const journal = useQuery({
    queryKey: ["journal", rulebase, rule],
    queryFn: () => api.journal(rulebase, { rule, most: MOST_EDITS + 1 }),
  });
  const entries = journal.data ?? [];
  return (
    <Part title="History">
      {journal.data?.length === 0 && <p className="text-dim">Unchanged since it was loaded.</p>}
      {entries.slice(0, MOST_EDITS).map((entry) => (
        <p key={entry.revision} className="text-xs">
          <span className="text-dim">
            {entry.revision} · {moment(entry.at)} ·
          </span>{" "}
          {entry.who} {entry.what}
          {entry.reason && <span className="text-dim"> · reason: {entry.reason}</span>}
        </p>
      ))}
      {entries.length > MOST_EDITS && (
        <p className="text-dim text-xs">and older edits, which stand in the history of the rulebase</p>
      )}
    </Part>
  );
}

/** What each question of the review may take, for everybody. */
function Steps({ steps, allow }: { steps: number; allow: (steps: number) => void }) {
  const [text, setText] = useState(String(steps));
  const wanted = Number(text);
  const changed = Number.isInteger(wanted) && wanted !== steps;
  return (
    <form
      className="mt-2 text-dim text-xs"
      onSubmit={(event) => {
        event.preventDefault();
        if (changed) allow(wanted);
      }}
    >
      Each question may take{" "}
      <input
        aria-label="Steps for each question"
        inputMode="numeric"
        value={text}
        onChange={(event) => setText(event.target.value)}
        className="w-20 rounded border border-paper-edge bg-paper px-1 text-right text-ink tabular-nums"
      />{" "}
      steps; what takes more is said to be undetermined.
      {changed && (
        <button type="submit" className="press ml-1 text-xs">
          Review with {wanted.toLocaleString("en")}
        </button>
      )}
    </form>
  );
}

/** So many findings are all shown; of more only the first kind, and the others when they are opened. */
const FEW_FINDINGS = 60;

/** With no rule selected: the findings of the whole rulebase, worst first. */
function Overview({ named }: { named: (id: string) => string }) {
  const openRulebase = useOpenRulebase();
  const answers = useAnswers();
  const rulebase = openRulebase.rulebase;
  const all = useMemo(
    () => (rulebase ? worstFirst(rulebase, answers.review) : []),
    [rulebase, answers.review],
  );
  const loud = all.filter(isLoud);
  const accepted = all.filter((finding) => finding.accepted);
  if (!answers.review) return <p className="p-3 text-dim">Reviewing …</p>;
  return (
    <Part title={loud.length === 0 ? "The review found nothing" : `The review found ${loud.length} things`}>
      {grouped(loud.slice(0, MOST_SHOWN), ({ kind }) => kind).map(([kind, some], index) => (
        <details key={kind} open={index === 0 || loud.length <= FEW_FINDINGS}>
          <summary className="cursor-pointer py-1 font-medium">
            {kind}{" "}
            <span className="font-normal text-dim">{loud.filter((one) => one.kind === kind).length}</span>
          </summary>
          <ul>
            {some.map((finding) => (
              <li key={finding.rule}>
                <button
                  type="button"
                  className="flex w-full gap-1.5 py-1 text-left hover:bg-rust-wash"
                  onClick={() => select(finding.rule)}
                >
                  <span className="pt-0.5">
                    <Rivet severity={finding.severity} />
                  </span>
                  <span>
                    <b>{named(finding.rule)}</b>
                    <span className="block text-dim text-xs">
                      {sentence(finding.said, openRulebase.number)}
                    </span>
                  </span>
                </button>
              </li>
            ))}
          </ul>
        </details>
      ))}
      {loud.length > MOST_SHOWN && (
        <p className="text-dim">
          … and {(loud.length - MOST_SHOWN).toLocaleString("en")} more; <span className="key">f</span> goes
          from one to the next.
        </p>
      )}
      <Steps key={answers.review.steps} steps={answers.review.steps} allow={answers.allowSteps} />
      {accepted.length > 0 && (
        <p className="text-dim text-xs">
          {accepted.length} more {accepted.length === 1 ? "is" : "are"} accepted:{" "}
          {accepted.map((finding) => `${named(finding.rule)}, ${finding.kind}`).join("; ")}
        </p>
      )}
    </Part>
  );
}
