import { useQuery } from "@tanstack/react-query";
import { useEffect, useRef, useState } from "react";
import {
  ApiError,
  api,
  type FieldError,
  type Parts,
  type ProblemDocument,
  type Rule,
  type RuleField,
  type RulePatch,
  type Step,
} from "../api/client";
import { press } from "../base/shortcuts";
import { ImpactStrip } from "../impact/ImpactStrip";
import { chipText, FIELDS } from "../rules/fields";
import { Cell, Row } from "../rules/grid";
import { type Place, rules } from "../rules/order";
import { since } from "../session/useContexts";
import type { Edit } from "../session/useSent";
import { Collision } from "./Collision";
import { begun, type Draft, difference, draftOf, NOTHING, withFields } from "./draft";
import { ThenEditor, WordsEditor } from "./OutcomeEditor";
import { dropSavedDraft, readSavedDraft, writeSavedDraft } from "./savedDraft";
import { ValueEditor } from "./ValueEditor";

const TEXTS: [string, string][] = [
  ["then", "Then"],
  ["words", "Name and note"],
];

type Props = {
  rulebase: string;
  /** Who edits, as others are told. */
  who: string;
  revision: number;
  /** The rule to change; nothing for a new one. */
  rule?: Rule;
  /** What a new rule says to begin with. */
  initial?: RulePatch;
  /** Where a new rule is to stand. */
  place?: Place;
  /** Puts a new rule somewhere else. */
  onPlace?: (place: Place) => void;
  /** Which field to begin with. */
  begin: string;
  /** Turns what is to be set into the steps of the edit. */
  steps: (patch: RulePatch) => Step[];
  /** A few words for the journal; of a new rule by what it is called. */
  what: string | ((name: string) => string);
  save: (edit: Edit) => Promise<unknown>;
  close: () => void;
  named: (rule: string) => string;
  /** Drops a witness of the impact as a probe. */
  drop: (probe: string) => void;
  /** What rules share: sheets, notices, lanes. */
  shared?: Parts;
};

/**
 * A rule in the stack, being changed in its place. Nothing is sent until it is kept; a refusal leaves everything typed
 * where it is and says what to do about it.
 */
export function RuleEditor({
  rulebase,
  who,
  revision,
  rule,
  begin,
  steps,
  what,
  save,
  close: leave,
  named,
  drop,
  shared,
  place,
  initial,
  onPlace,
}: Props) {
  const [savedDraft] = useState(() => {
    const found = readSavedDraft<Draft>(rulebase);
    return found?.rule === rule?.id ? found : undefined;
  });
  // What the rule said when it was opened, which after a reload is not what it says now.
  const [before] = useState(() => (rule && savedDraft?.before) || draftOf(rule));
  const [base, setBase] = useState(() => (rule ? savedDraft?.base : undefined) ?? revision);
  const [draft, setDraft] = useState(() => savedDraft?.draft ?? (rule ? before : begun(initial)));
  useEffect(() => {
    if (draft !== before) writeSavedDraft(rulebase, { rule: rule?.id, place, draft, before, base });
  }, [rulebase, rule?.id, place, draft, before, base]);
  const setFields = (fields: Draft["fields"]) =>
    setDraft(rule ? { ...draft, fields } : withFields(draft, fields));
  const [part, setPart] = useState(begin);
  const [newSets, setNewSets] = useState<Step[]>([]);
  const [problem, setProblem] = useState<ProblemDocument>();
  const [saving, setSaving] = useState(false);
  const [hint, setHint] = useState("");
  const close = () => {
    dropSavedDraft(rulebase);
    leave();
  };
  const panel = useRef<HTMLDivElement>(null);
  const field = FIELDS.find((info) => info.key === part);
  const parts = [...FIELDS.map((info) => info.key), ...TEXTS.map(([key]) => key)];

  useEffect(() => {
    panel.current?.scrollIntoView({ block: "nearest" });
  }, []);

  const keep = async (onRevision: number, said = draft) => {
    const patch = difference(before, said);
    if (rule && Object.keys(patch).length === 0 && newSets.length === 0) return close();
    setSaving(true);
    try {
      const words = typeof what === "string" ? what : what(said.name);
      await save({ what: words, steps: [...newSets, ...steps(patch)], revision: onRevision });
      close();
    } catch (error) {
      if (error instanceof ApiError) setProblem(error.problem);
      else throw error;
    } finally {
      setSaving(false);
    }
  };
  const turn = (by: number) => () => setPart(parts[(parts.indexOf(part) + by + parts.length) % parts.length]);
  const keys = (event: React.KeyboardEvent) => {
    press(event, "editor", {
      save: () => keep(base),
      // The impact strip knows the better place, and shows a button for it only while there is one.
      saveBetter: () => {
        const better = panel.current?.querySelector<HTMLButtonElement>("[data-better]");
        const placement = panel.current?.querySelector<HTMLElement>("[data-placement]");
        if (better) better.click();
        else setHint(placement?.dataset.placement ?? "No other place is proposed for it.");
      },
      cancel: close,
      nextPart: turn(1),
      partBefore: turn(-1),
    });
    event.stopPropagation();
  };
  const patch = difference(before, draft);
  const idle = rule && Object.keys(patch).length === 0;
  const intended = idle ? newSets : [...newSets, ...steps(patch)];
  const makeSet = (name: string, values: string[]) => {
    if (!field) return;
    setNewSets([...newSets, { op: "SAVE_SET", set: { kind: field.kind, name, values, note: "" } }]);
    setFields({
      ...draft.fields,
      [part]: { sense: draft.fields[part]?.sense ?? "is", values: [`set ${name}`] },
    });
  };
  // What cannot be kept is known as soon as its impact is asked for.
  const [foreseen, setForeseen] = useState<FieldError[]>([]);
  const faults = problem?.errors ?? foreseen;
  // Said again and again while it is open; whoever else has it open is told before both have written.
  const others = useQuery({
    queryKey: ["open rule", rulebase, rule?.id],
    queryFn: () => api.openRule(rulebase, rule?.id ?? "", who),
    enabled: rule !== undefined,
    refetchInterval: 15_000,
    retry: false,
  });
  const openId = rule?.id;
  useEffect(() => {
    if (!openId) return;
    return () => {
      api.closeRule(rulebase, openId).catch(() => undefined);
    };
  }, [rulebase, openId]);
  // Asked for anew: what this page knows of the rule may be older than what the other one saved.
  const newest = useQuery({
    queryKey: ["rule now", rulebase, rule?.id, problem?.revision],
    queryFn: async () => {
      const all = rules(await api.rulebase(rulebase, ""));
      return all.find(({ id }) => id === rule?.id) ?? null;
    },
    enabled: problem?.status === 409 && rule !== undefined,
    staleTime: 0,
  });
  return (
    <Row>
      <Cell>
        <section
          ref={panel}
          aria-label={rule ? `Editing rule ${rule.number}` : "New rule"}
          onKeyDown={keys}
          className="flex h-[405px] flex-col border-rust border-y-2 bg-paper"
        >
          {problem && (
            <div role="alert" className="border-paper-edge border-b bg-rust-wash px-3 py-1.5 text-xs">
              {problem.status === 409 && rule ? (
                <Collision
                  problem={problem}
                  before={before}
                  mine={draft}
                  now={newest.data}
                  save={(merged) => {
                    const revision = problem.revision ?? base;
                    setBase(revision);
                    setProblem(undefined);
                    setDraft(merged);
                    keep(revision, merged);
                  }}
                  discard={close}
                />
              ) : problem.status === 409 ? (
                <>
                  <strong>{problem.title}.</strong> {since(problem.since ?? [])}. Your new rule is still here.{" "}
                  <button
                    type="button"
                    className="press press-main"
                    onClick={() => {
                      const revision = problem.revision ?? base;
                      setBase(revision);
                      setProblem(undefined);
                      keep(revision);
                    }}
                  >
                    Save it too
                  </button>{" "}
                  <button type="button" className="press" onClick={close}>
                    Discard mine
                  </button>
                </>
              ) : (
                <>
                  <strong>{problem.title}.</strong>{" "}
                  {problem.errors?.length ? problem.errors.map((f) => f.message).join("; ") : problem.detail}
                </>
              )}
            </div>
          )}
          <div className="flex min-h-0 flex-1">
            <div
              role="tablist"
              aria-orientation="vertical"
              aria-label="Parts of the rule"
              className="w-52 shrink-0 overflow-auto border-paper-edge border-r py-1"
            >
              {FIELDS.map((info) => (
                <PartTab
                  key={info.key}
                  chosen={part === info.key}
                  choose={() => setPart(info.key)}
                  label={`${info.group} · ${info.label}`}
                  summary={summary(draft.fields[info.key])}
                  faulty={faults.some((fault) => fault.field === info.key)}
                />
              ))}
              <PartTab
                chosen={part === "then"}
                choose={() => setPart("then")}
                label={TEXTS[0][1]}
                summary={draft.verdict}
                faulty={false}
              />
              <PartTab
                chosen={part === "words"}
                choose={() => setPart("words")}
                label={TEXTS[1][1]}
                summary={draft.name}
                faulty={false}
              />
            </div>
            <div role="tabpanel" className="flex min-w-0 flex-1 flex-col p-2">
              {field && (
                <ValueEditor
                  key={part}
                  rulebase={rulebase}
                  kind={field.kind}
                  label={field.label}
                  field={draft.fields[part] ?? NOTHING}
                  onChange={(next) => setFields({ ...draft.fields, [part]: next })}
                  canNegate
                  focused
                  onMakeSet={makeSet}
                  faults={faults.filter((fault) => fault.field === part)}
                />
              )}
              {part === "then" && <ThenEditor parts={shared} draft={draft} set={setDraft} />}
              {part === "words" && <WordsEditor draft={draft} set={setDraft} />}
            </div>
          </div>
          <div className="h-[74px] shrink-0 overflow-auto border-paper-edge border-t px-3 py-1">
            <ImpactStrip
              rulebase={rulebase}
              revision={revision}
              steps={intended}
              named={named}
              drop={drop}
              onPlace={onPlace}
              onFaults={setForeseen}
            />
          </div>
          {others.data && others.data.others.length > 0 && (
            <p role="status" className="border-paper-edge border-t px-3 py-0.5 text-rust text-xs">
              {others.data.others.join(" and ")} {others.data.others.length === 1 ? "has" : "have"} this rule
              open too.
            </p>
          )}
          <footer className="flex items-center gap-2 border-paper-edge border-t px-3 py-1">
            <button type="button" className="press press-main" onClick={() => keep(base)} disabled={saving}>
              Save
            </button>
            <button type="button" className="press" onClick={close}>
              Cancel
            </button>
            <span className="ml-auto text-dim text-xs">
              <span className="key">Ctrl Enter</span> save · <span role="status">{hint && `${hint} · `}</span>
              <span className="key">Alt ↑↓</span> next part · <span className="key">Esc</span> cancel
            </span>
          </footer>
        </section>
      </Cell>
    </Row>
  );
}

function summary(field?: RuleField): string {
  if (!field || field.values.length === 0) return "any";
  return (field.sense === "is not" ? "not " : "") + field.values.map(chipText).join(", ");
}

type TabProps = { chosen: boolean; choose: () => void; label: string; summary: string; faulty: boolean };

function PartTab({ chosen, choose, label, summary, faulty }: TabProps) {
  return (
    <button
      type="button"
      role="tab"
      aria-selected={chosen}
      onClick={choose}
      className={`flex w-full gap-2 px-2 py-1 text-left text-xs ${chosen ? "bg-rust-wash" : ""} ${faulty ? "text-madder" : ""}`}
    >
      <span className="w-[104px] shrink-0 text-dim">{label}</span>
      <span className={`truncate ${summary === "any" ? "text-faint" : "font-medium"}`}>{summary}</span>
    </button>
  );
}
