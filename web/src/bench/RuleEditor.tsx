import { useEffect, useRef, useState } from "react";
import {
  ApiError,
  type Parts,
  type ProblemDocument,
  type Rule,
  type RuleField,
  type RulePatch,
  type Step,
} from "../api/client";
import { chipText, FIELDS } from "./fields";
import { ImpactStrip } from "./ImpactStrip";
import type { Place } from "./order";
import { Plate } from "./Plate";
import { dropUnkept, readUnkept, writeUnkept } from "./unkept";
import { type Edit, since } from "./useBench";
import { ValueEditor } from "./ValueEditor";

const NOTHING: RuleField = { sense: "is", values: [] };
const TEXTS: [string, string][] = [
  ["then", "Then"],
  ["words", "Name and note"],
];

type Draft = {
  name: string;
  note: string;
  owner: string;
  changes: string;
  reviewBy: string;
  /** What happens, in full: a verdict with its notice or lane. */
  verdict: string;
  sheet: string;
  logging: string;
  ports: string;
  state: string;
  fields: Record<string, RuleField>;
};

type Props = {
  rulebase: string;
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
  what: string;
  save: (edit: Edit) => Promise<unknown>;
  close: () => void;
  named: (rule: string) => string;
  /** Drops a witness of the impact as a probe. */
  drop: (probe: string) => void;
  /** What rules share: sheets, notices, lanes. */
  shared?: Parts;
};

function draftOf(rule?: Rule): Draft {
  return {
    name: rule?.name ?? "",
    note: rule?.note ?? "",
    owner: rule?.kept?.owner ?? "",
    changes: rule?.kept?.changes ?? "",
    reviewBy: rule?.kept?.reviewBy ?? "",
    verdict: rule?.outcome ?? "allow",
    sheet: rule?.sheet ?? "",
    logging: rule?.logging ?? "log",
    ports: rule?.ports ?? "any",
    state: rule?.state ?? "on",
    fields: rule?.fields ?? {},
  };
}

/** A new rule as a sentence gave it. */
function begun(initial: RulePatch | undefined): Draft {
  const blank = draftOf();
  const fields: Record<string, RuleField> = {};
  for (const [key, field] of Object.entries(initial?.fields ?? {})) {
    fields[key] = { sense: field.sense ?? "is", values: field.values ?? [] };
  }
  return {
    ...blank,
    name: initial?.name ?? "",
    note: initial?.note ?? "",
    verdict: initial?.verdict ?? blank.verdict,
    fields,
  };
}

/** Only what differs, so that two people who change different parts of a rule do not undo each other's work. */
function difference(before: Draft, after: Draft): RulePatch {
  const patch: RulePatch = {};
  for (const key of ["name", "note", "verdict", "sheet", "logging", "ports", "state"] as const) {
    if (before[key] !== after[key]) patch[key] = after[key];
  }
  for (const key of ["owner", "changes", "reviewBy"] as const) {
    if (before[key] !== after[key]) patch.kept = { ...patch.kept, [key]: after[key] };
  }
  const fields: Record<string, RuleField> = {};
  for (const { key } of FIELDS) {
    const old = before.fields[key] ?? NOTHING;
    const next = after.fields[key] ?? NOTHING;
    if (JSON.stringify(old) !== JSON.stringify(next)) fields[key] = next;
  }
  if (Object.keys(fields).length > 0) patch.fields = fields;
  return patch;
}

/**
 * A rule on the bench, being changed in its place. Nothing is sent until it is kept; a refusal leaves everything typed
 * where it is and says what to do about it.
 */
export function RuleEditor({
  rulebase,
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
  const [before] = useState(() => draftOf(rule));
  const [base, setBase] = useState(revision);
  const [unkept] = useState(() => readUnkept<Draft>(rulebase));
  const [draft, setDraft] = useState(() => {
    if (unkept && unkept.rule === rule?.id) return unkept.draft;
    return rule ? before : begun(initial);
  });
  useEffect(() => {
    if (draft !== before) writeUnkept(rulebase, { rule: rule?.id, place, draft });
  }, [rulebase, rule?.id, place, draft, before]);
  const [part, setPart] = useState(begin);
  const [newSets, setNewSets] = useState<Step[]>([]);
  const [problem, setProblem] = useState<ProblemDocument>();
  const [saving, setSaving] = useState(false);
  const close = () => {
    dropUnkept(rulebase);
    leave();
  };
  const panel = useRef<HTMLDivElement>(null);
  const field = FIELDS.find((info) => info.key === part);
  const parts = [...FIELDS.map((info) => info.key), ...TEXTS.map(([key]) => key)];

  useEffect(() => {
    panel.current?.scrollIntoView({ block: "nearest" });
  }, []);

  const keep = async (onRevision: number) => {
    const patch = difference(before, draft);
    if (rule && Object.keys(patch).length === 0 && newSets.length === 0) return close();
    setSaving(true);
    try {
      await save({ what, steps: [...newSets, ...steps(patch)], revision: onRevision });
      close();
    } catch (error) {
      if (error instanceof ApiError) setProblem(error.problem);
      else throw error;
    } finally {
      setSaving(false);
    }
  };
  const keys = (event: React.KeyboardEvent) => {
    const along = parts.indexOf(part);
    if (event.key === "Enter" && event.ctrlKey) keep(base);
    else if (event.key === "Escape") close();
    else if (event.altKey && event.key === "ArrowDown") setPart(parts[(along + 1) % parts.length]);
    else if (event.altKey && event.key === "ArrowUp")
      setPart(parts[(along + parts.length - 1) % parts.length]);
    else {
      event.stopPropagation();
      return;
    }
    event.preventDefault();
    event.stopPropagation();
  };
  const patch = difference(before, draft);
  const idle = rule && Object.keys(patch).length === 0;
  const intended = idle ? newSets : [...newSets, ...steps(patch)];
  const makeSet = (name: string, values: string[]) => {
    if (!field) return;
    setNewSets([...newSets, { op: "SAVE_SET", set: { set: { kind: field.kind, name, values, note: "" } } }]);
    setDraft({
      ...draft,
      fields: {
        ...draft.fields,
        [part]: { sense: draft.fields[part]?.sense ?? "is", values: [`set ${name}`] },
      },
    });
  };
  const faults = problem?.errors ?? [];
  return (
    <div role="row">
      <div role="gridcell">
        <section
          ref={panel}
          aria-label={rule ? `Editing rule ${rule.number}` : "New rule"}
          onKeyDown={keys}
          className="flex h-[405px] flex-col border-rust border-y-2 bg-paper"
        >
          {problem && (
            <div role="alert" className="border-paper-edge border-b bg-rust-wash px-3 py-1.5 text-xs">
              {problem.status === 409 ? (
                <>
                  <strong>{problem.title}.</strong> {since(problem.since ?? [])}. Your changes are still here.{" "}
                  <button
                    type="button"
                    className="press press-main"
                    onClick={() => {
                      const newest = problem.revision ?? base;
                      setBase(newest);
                      setProblem(undefined);
                      keep(newest);
                    }}
                  >
                    Put mine on top
                  </button>{" "}
                  <button type="button" className="press" onClick={close}>
                    Let mine go
                  </button>
                </>
              ) : (
                <>
                  <strong>{problem.title}.</strong>{" "}
                  {faults.length > 0 ? faults.map((f) => f.message).join("; ") : problem.detail}
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
                  onChange={(next) => setDraft({ ...draft, fields: { ...draft.fields, [part]: next } })}
                  canNegate
                  focused
                  onMakeSet={makeSet}
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
            />
          </div>
          <footer className="flex items-center gap-2 border-paper-edge border-t px-3 py-1">
            <button type="button" className="press press-main" onClick={() => keep(base)} disabled={saving}>
              Keep
            </button>
            <button type="button" className="press" onClick={close}>
              Leave as it was
            </button>
            <span className="ml-auto text-dim text-xs">
              <span className="key">Ctrl Enter</span> keep · <span className="key">Alt ↑↓</span> next part ·{" "}
              <span className="key">Esc</span> leave
            </span>
          </footer>
        </section>
      </div>
    </div>
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
      className={`flex w-full gap-2 px-2 py-[3px] text-left text-xs ${chosen ? "bg-rust-wash" : ""} ${faulty ? "text-madder" : ""}`}
    >
      <span className="w-[104px] shrink-0 text-dim">{label}</span>
      <span className={`truncate ${summary === "any" ? "text-faint" : "font-medium"}`}>{summary}</span>
    </button>
  );
}

function Choice({
  label,
  options,
  value,
  choose,
}: {
  label: string;
  options: string[];
  value: string;
  choose: (v: string) => void;
}) {
  return (
    <fieldset className="flex items-center gap-3">
      <legend className="sr-only">{label}</legend>
      <span className="w-24 text-dim">{label}</span>
      {options.map((option) => (
        <label key={option} className="flex items-center gap-1">
          <input
            type="radio"
            name={label}
            checked={value === option}
            onChange={() => choose(option)}
            className="accent-rust"
          />
          {label === "Verdict" ? <Plate verdict={option} /> : option}
        </label>
      ))}
    </fieldset>
  );
}

type PickProps = {
  label: string;
  none: string;
  options: { value: string; text: string }[];
  value: string;
  choose: (value: string) => void;
};

/** One of several named things, or none of them. */
function Pick({ label, none, options, value, choose }: PickProps) {
  return (
    <label className="flex items-center gap-3">
      <span className="w-24 text-dim">{label}</span>
      <select
        value={value}
        onChange={(event) => choose(event.target.value)}
        className="rounded border border-paper-edge bg-paper px-1 py-0.5"
      >
        <option value="">{none}</option>
        {options.map((option) => (
          <option key={option.value} value={option.value}>
            {option.text}
          </option>
        ))}
      </select>
    </label>
  );
}

type ThenProps = { parts?: Parts; draft: Draft; set: (draft: Draft) => void };

function ThenEditor({ parts, draft, set }: ThenProps) {
  const [word] = draft.verdict.split(" ");
  const allows = word === "allow";
  const lane = draft.verdict.startsWith("allow in ") ? draft.verdict.slice(9) : "";
  const notice = ["ask", "stop", "enrol"].includes(word) ? draft.verdict : "";
  const verdict = (next: string) =>
    set({ ...draft, verdict: next, sheet: next.startsWith("allow") ? draft.sheet : "" });
  return (
    <div className="flex flex-col gap-2 p-2">
      <Choice label="Verdict" options={["allow", "deny", "reject"]} value={word} choose={verdict} />
      <Pick
        label="or a notice"
        none="no notice"
        options={(parts?.notices ?? []).map((n) => ({
          value: `${n.verdict} ${n.name}`,
          text: `${n.verdict}: ${n.name}`,
        }))}
        value={notice}
        choose={(next) => verdict(next || "deny")}
      />
      {allows && (
        <>
          <Pick
            label="Lane"
            none="no lane"
            options={(parts?.lanes ?? []).map((l) => ({ value: l.name ?? "", text: l.name ?? "" }))}
            value={lane}
            choose={(next) => verdict(next ? `allow in ${next}` : "allow")}
          />
          <Pick
            label="Usage sheet"
            none="no sheet"
            options={(parts?.sheets ?? []).map((s) => ({ value: s.name ?? "", text: s.name ?? "" }))}
            value={draft.sheet}
            choose={(sheet) => set({ ...draft, sheet })}
          />
        </>
      )}
      <Choice
        label="Logging"
        options={["log", "quiet"]}
        value={draft.logging}
        choose={(logging) => set({ ...draft, logging })}
      />
      <Choice
        label="Ports"
        options={["any", "usual"]}
        value={draft.ports}
        choose={(ports) => set({ ...draft, ports })}
      />
      <Choice
        label="State"
        options={["on", "off"]}
        value={draft.state}
        choose={(state) => set({ ...draft, state })}
      />
      <p className="text-dim text-xs">
        Usual ports hold each application to the ports the catalogue knows for it. A rule that is off does not
        exist for decisions and the review.
      </p>
    </div>
  );
}

function WordsEditor({ draft, set }: { draft: Draft; set: (draft: Draft) => void }) {
  return (
    <div className="flex min-h-0 flex-1 flex-col gap-2">
      <input
        aria-label="Name of the rule"
        placeholder="what the rule is called"
        value={draft.name}
        onChange={(event) => set({ ...draft, name: event.target.value })}
        className="rounded border border-paper-edge bg-ground/40 px-2 py-1 placeholder:text-faint"
      />
      <div className="grid grid-cols-[1fr_1fr_auto] gap-2">
        <input
          aria-label="Owner of the rule"
          placeholder="who answers for it"
          value={draft.owner}
          onChange={(event) => set({ ...draft, owner: event.target.value })}
          className="rounded border border-paper-edge bg-ground/40 px-2 py-1 placeholder:text-faint"
        />
        <input
          aria-label="Change references"
          placeholder="change requests behind it"
          value={draft.changes}
          onChange={(event) => set({ ...draft, changes: event.target.value })}
          className="rounded border border-paper-edge bg-ground/40 px-2 py-1 placeholder:text-faint"
        />
        <label className="flex items-center gap-1.5 text-dim text-xs">
          look again by
          <input
            type="date"
            value={draft.reviewBy}
            onChange={(event) => set({ ...draft, reviewBy: event.target.value })}
            className="rounded border border-paper-edge bg-ground/40 px-1 py-1 text-ink"
          />
        </label>
      </div>
      <textarea
        aria-label="Note on the rule"
        placeholder="why it is there"
        value={draft.note}
        onChange={(event) => set({ ...draft, note: event.target.value })}
        className="min-h-0 flex-1 resize-none rounded border border-paper-edge bg-ground/40 px-2 py-1 placeholder:text-faint"
      />
    </div>
  );
}
