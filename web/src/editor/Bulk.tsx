import { useMemo, useState } from "react";
import type { Rule } from "../api/client";
import { focusStack } from "../base/focusStack";
import { values } from "../filter/filter";
import { ImpactStrip } from "../impact/ImpactStrip";
import { FIELDS, shown } from "../rules/fields";
import { showProbe, useEditing, useOpenRulebase } from "../session/contexts";
import { mergeable, steps, type Work } from "./bulk";
import { ValueEditor } from "./ValueEditor";

type Props = {
  chosen: Rule[];
  named: (rule: string) => string;
  /** Lets all rules go. */
  clear: () => void;
};

const KINDS: [Work["what"], string][] = [
  ["state", "Switch on or off"],
  ["logging", "Log or not"],
  ["owner", "Give an owner"],
  ["move", "Move to a chapter"],
  ["add", "Add a value to a field"],
  ["take", "Take a value out of a field"],
  ["replace", "Replace a value wherever it stands"],
  ["merge", "Merge into one"],
  ["remove", "Remove"],
];

/** Work on many rules as one edit, with its impact before it is done. */
export function Bulk({ chosen, named, clear }: Props) {
  const openRulebase = useOpenRulebase();
  const edits = useEditing();
  const [what, setWhat] = useState<Work["what"]>("state");
  const [text, setText] = useState("");
  const [by, setBy] = useState<string[]>([]);
  const [field, setField] = useState(FIELDS[0].key);
  const used = useMemo(() => [...new Set(chosen.flatMap(values))].sort(), [chosen]);
  const kind =
    what === "replace"
      ? FIELDS.find(({ key }) => chosen.some((rule) => rule.fields[key]?.values.includes(text)))?.kind
      : FIELDS.find(({ key }) => key === field)?.kind;
  const work = made(what, text, by[0], field, openRulebase.rulebase?.chapters[0]?.id ?? "");
  const todo = work ? steps(work, chosen) : [];
  const pick = (next: Work["what"]) => {
    setWhat(next);
    setText("");
    setBy([]);
  };
  const doIt = () =>
    edits
      .edit({
        what: journalled(work, new Set(todo.map((step) => step.id)).size),
        steps: todo,
      })
      .then(() => {
        clear();
        focusStack();
      })
      .catch(() => undefined);
  return (
    <section aria-label="Work on the chosen rules" className="flex min-h-0 flex-1 flex-col gap-2 px-3 py-2">
      <p className="text-dim text-xs">
        Rules{" "}
        {chosen
          .map((rule) => rule.number)
          .slice(0, 14)
          .join(", ")}
        {chosen.length > 14 && ` and ${chosen.length - 14} more`}
      </p>
      <label className="flex items-center gap-2">
        <span className="w-10 text-dim text-xs">Do</span>
        <select
          aria-label="Do"
          value={what}
          onChange={(event) => pick(event.target.value as Work["what"])}
          className="min-w-0 flex-1 rounded border border-paper-edge bg-paper px-1 py-0.5"
        >
          {KINDS.filter(([key]) => key !== "merge" || mergeable(chosen)).map(([key, label]) => (
            <option key={key} value={key}>
              {label}
            </option>
          ))}
        </select>
      </label>
      {what === "state" && <Either label="State" options={["on", "off"]} value={text} set={setText} />}
      {what === "logging" && (
        <Either label="Logging" options={["logged", "not logged"]} value={text} set={setText} />
      )}
      {what === "owner" && (
        <input
          aria-label="Owner"
          placeholder="who answers for them"
          value={text}
          onChange={(event) => setText(event.target.value)}
          className="rounded border border-paper-edge bg-paper px-2 py-0.5 placeholder:text-faint"
        />
      )}
      {what === "move" && (
        <Picker
          label="Chapter"
          options={(openRulebase.rulebase?.chapters ?? []).map((c) => [c.id, c.title])}
          value={text}
          set={setText}
        />
      )}
      {(what === "add" || what === "take") && (
        <Picker
          label="Field"
          options={FIELDS.map((info) => [info.key, `${info.group} · ${info.label}`])}
          value={field}
          set={setField}
        />
      )}
      {(what === "take" || what === "replace") && (
        <Picker label="Value" options={used.map((value) => [value, value])} value={text} set={setText} />
      )}
      {(what === "add" || (what === "replace" && text)) && kind && (
        <div className="flex h-44 flex-col">
          <ValueEditor
            key={what + kind}
            rulebase={openRulebase.id}
            kind={kind}
            label={what === "add" ? "value" : "value instead"}
            field={{ sense: "is", values: by }}
            onChange={(next) => setBy(next.values.slice(-1))}
            canNegate={false}
            focused={false}
          />
        </div>
      )}
      {what === "merge" && (
        <p className="text-dim text-xs">
          They differ in one field only. The topmost stays, with the values of all.
        </p>
      )}
      <div className="min-h-0 flex-1 overflow-auto rounded border border-paper-edge bg-paper p-2">
        {todo.length > 0 ? (
          <ImpactStrip
            rulebase={openRulebase.id}
            revision={openRulebase.rulebase?.revision ?? 0}
            steps={todo}
            named={named}
            drop={showProbe}
          />
        ) : (
          <p className="text-dim text-xs">
            {work ? "None of them would change." : "Say what, and the impact shows here before it is done."}
          </p>
        )}
      </div>
      <div className="flex gap-1">
        <button type="button" className="press press-main" disabled={todo.length === 0} onClick={doIt}>
          {todo.length > 0 ? `Apply to ${new Set(todo.map((step) => step.id)).size}` : "Apply"}
        </button>
        <button type="button" className="press" onClick={clear}>
          Clear
        </button>
      </div>
    </section>
  );
}

/** What the journal says of it. */
function journalled(work: Work | undefined, count: number): string {
  const rules = `${count} ${count === 1 ? "rule" : "rules"}`;
  switch (work?.what) {
    case "state":
      return `switched ${rules} ${work.to}`;
    case "logging":
      return `set the logging of ${rules} to ${work.to}`;
    case "owner":
      return `gave ${rules} to ${work.to}`;
    case "move":
      return `moved ${rules} to another chapter`;
    case "add":
      return `gave ${rules} ${work.value}`;
    case "take":
      return `took ${work.value} out of ${rules}`;
    case "replace":
      return `replaced ${work.value} by ${work.by} in ${rules}`;
    case "merge":
      return `merged ${rules}`;
    default:
      return `removed ${rules}`;
  }
}

/** The work as far as it has been said; nothing while something is missing. */
function made(
  what: Work["what"],
  text: string,
  by: string | undefined,
  field: string,
  first: string,
): Work | undefined {
  switch (what) {
    case "state":
    case "logging":
    case "owner":
      return text ? { what, to: text } : undefined;
    case "move":
      return { what, chapter: text || first };
    case "add":
      return by ? { what, field, value: by } : undefined;
    case "take":
      return text ? { what, field, value: text } : undefined;
    case "replace":
      return text && by ? { what, value: text, by } : undefined;
    default:
      return { what };
  }
}

type EitherProps = { label: string; options: string[]; value: string; set: (value: string) => void };

/** One of a few words. */
export function Either({ label, options, value, set }: EitherProps) {
  return (
    <fieldset className="flex gap-3">
      <legend className="sr-only">{label}</legend>
      {options.map((option) => (
        <label key={option} className="flex items-center gap-1">
          <input
            type="radio"
            name={label}
            checked={value === option}
            onChange={() => set(option)}
            className="accent-rust"
          />
          {shown(option)}
        </label>
      ))}
    </fieldset>
  );
}

type PickerProps = {
  label: string;
  options: [string, string][];
  value: string;
  set: (value: string) => void;
};

function Picker({ label, options, value, set }: PickerProps) {
  return (
    <label className="flex items-center gap-2">
      <span className="w-10 text-dim text-xs">{label}</span>
      <select
        aria-label={label}
        value={value}
        onChange={(event) => set(event.target.value)}
        className="min-w-0 flex-1 rounded border border-paper-edge bg-paper px-1 py-0.5"
      >
        {!options.some(([key]) => key === value) && <option value="">…</option>}
        {options.map(([key, text]) => (
          <option key={key} value={key}>
            {text}
          </option>
        ))}
      </select>
    </label>
  );
}
