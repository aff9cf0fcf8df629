import { useState } from "react";
import type { Parts, Sheet, Step } from "../api/client";
import { goTo } from "../base/address";
import { Fault } from "../base/Fault";
import { focusOnOpen } from "../base/focusOnOpen";
import { Term } from "../base/Term";
import { ImpactPreview } from "../impact/ImpactPreview";
import { ImpactStrip } from "../impact/ImpactStrip";
import { rules } from "../rules/order";
import { Plate } from "../rules/Plate";
import { useOpenRulebase } from "../session/contexts";
import { useImpactPreview } from "../session/useImpactPreview";
import { useSend } from "../session/useSend";
import { Decryption } from "./Decryption";
import { Lanes } from "./Lanes";
import { Notices } from "./Notices";

/** What rules share besides sets: usage sheets, notices, lanes, and whose content is decrypted. */
export function SharedPage() {
  const openRulebase = useOpenRulebase();
  const parts = openRulebase.rulebase?.parts;
  const [open, setOpen] = useState<string>();
  if (!parts) return <p className="p-6 text-dim">Loading …</p>;
  const sheet = parts.sheets.find((candidate) => candidate.name === open) ?? parts.sheets[0];
  return (
    <div className="grid min-h-0 flex-1 grid-cols-[minmax(0,1.2fr)_minmax(0,1fr)] overflow-auto max-[900px]:grid-cols-1">
      <div className="border-edge border-r bg-paper p-4">
        <h2 className="mb-1 font-semibold">
          <Term word="sheet">Usage sheets</Term>
        </h2>
        <p className="mb-2 text-dim text-xs">
          Finer verdicts under allow rules. The most specific line wins: feature, application, family,
          category.
        </p>
        <div className="mb-2 flex flex-wrap gap-1">
          {parts.sheets.map((one) => (
            <button
              key={one.name}
              type="button"
              aria-pressed={one === sheet}
              className={`press ${one === sheet ? "press-main" : ""}`}
              onClick={() => setOpen(one.name)}
            >
              {one.name}
            </button>
          ))}
          <NewSheet done={setOpen} />
        </div>
        {sheet && <SheetEditor key={sheet.name} sheet={sheet} parts={parts} />}
      </div>
      <div className="bg-plate p-4">
        <Notices parts={parts} />
        <Lanes parts={parts} />
        <Decryption parts={parts} />
      </div>
    </div>
  );
}

function NewSheet({ done }: { done: (name: string) => void }) {
  const [name, setName] = useState<string>();
  const { fault, send } = useSend();
  if (name === undefined) {
    return (
      <button type="button" className="press" onClick={() => setName("")}>
        New sheet
      </button>
    );
  }
  return (
    <form
      onSubmit={(event) => {
        event.preventDefault();
        const trimmed = name.trim();
        const part = { name: trimmed, lines: [], otherwise: "allow", note: "" };
        if (trimmed)
          send(`made sheet ${trimmed}`, [{ op: "SAVE_PART", partKind: "sheet", part }]).then((kept) => {
            if (!kept) return;
            setName(undefined);
            done(trimmed);
          });
      }}
    >
      <input
        ref={focusOnOpen}
        aria-label="Name of the new sheet"
        placeholder="name, then Enter"
        value={name}
        onChange={(event) => setName(event.target.value)}
        onKeyDown={(event) => event.key === "Escape" && setName(undefined)}
        className="rounded border border-paper-edge bg-ground/40 px-2 py-0.5 placeholder:text-faint"
      />
      <Fault fault={fault} />
    </form>
  );
}

type SheetProps = { sheet: Sheet; parts: Parts };

function SheetEditor({ sheet, parts }: SheetProps) {
  const openRulebase = useOpenRulebase();
  const [lines, setLines] = useState(sheet.lines ?? []);
  const [otherwise, setOtherwise] = useState(sheet.otherwise ?? "allow");
  const [note, setNote] = useState(sheet.note ?? "");
  const { fault, send } = useSend();
  const preview = useImpactPreview();
  const removing: Step[] = [{ op: "REMOVE_PART", partKind: "sheet", id: sheet.name ?? "" }];
  const outcomes = [
    "allow",
    "deny",
    "reject",
    ...parts.lanes.map((lane) => `allow in ${lane.name}`),
    ...parts.notices.map((notice) => `${notice.verdict} ${notice.name}`),
  ];
  const used = openRulebase.rulebase
    ? rules(openRulebase.rulebase).filter((rule) => rule.sheet === sheet.name)
    : [];
  const filled = lines.filter((line) => line.about?.trim());
  const part = { name: sheet.name, lines: filled, otherwise, note };
  const before = JSON.stringify([sheet.lines, sheet.otherwise, sheet.note ?? ""]);
  const changed = JSON.stringify([filled, otherwise, note]) !== before;
  const steps: Step[] = changed ? [{ op: "SAVE_PART", partKind: "sheet", part }] : [];
  const outcome = (label: string, value: string, set: (value: string) => void) => (
    <select
      aria-label={label}
      value={value}
      onChange={(event) => set(event.target.value)}
      className="w-52 rounded border border-paper-edge bg-paper px-1 py-0.5"
    >
      {outcomes.map((word) => (
        <option key={word}>{word}</option>
      ))}
    </select>
  );
  return (
    <section aria-label={`Sheet ${sheet.name}`}>
      <input
        aria-label="Note on the sheet"
        placeholder="what it is for"
        value={note}
        onChange={(event) => setNote(event.target.value)}
        className="mb-2 w-full rounded border border-paper-edge bg-ground/40 px-2 py-0.5 placeholder:text-faint"
      />
      {lines.map((line, index) => (
        <div key={index} className="mb-1 flex items-center gap-2">
          <span className="w-6">
            <Plate verdict={(line.outcome ?? "").split(" ")[0]} word={false} />
          </span>
          <input
            aria-label={`Line ${index + 1} matches`}
            placeholder="category games, family Hull, Chatterbay, Chatterbay/upload"
            value={line.about ?? ""}
            onChange={(event) =>
              setLines(
                lines.map((other, at) => (at === index ? { ...line, about: event.target.value } : other)),
              )
            }
            className="min-w-0 flex-1 rounded border border-paper-edge bg-ground/40 px-2 py-0.5 placeholder:text-faint"
          />
          {outcome(`Outcome of line ${index + 1}`, line.outcome ?? "deny", (value) =>
            setLines(lines.map((other, at) => (at === index ? { ...line, outcome: value } : other))),
          )}
          <button
            type="button"
            className="press text-xs"
            aria-label={`Remove line ${index + 1}`}
            onClick={() => setLines(lines.filter((_, at) => at !== index))}
          >
            Remove
          </button>
        </div>
      ))}
      <div className="mb-2 flex items-center gap-2">
        <button
          type="button"
          className="press text-xs"
          onClick={() => setLines([...lines, { about: "", outcome: "deny" }])}
        >
          Add a line
        </button>
        <span className="ml-auto text-dim">otherwise</span>
        {outcome("Otherwise", otherwise, setOtherwise)}
      </div>
      <p className="mb-2 text-dim text-xs">
        {used.length === 0 ? "No rule uses it. " : "Under "}
        {used.map((rule) => (
          <button
            key={rule.id}
            type="button"
            className="mr-2 underline decoration-edge"
            onClick={() => goTo({ page: "rulebase", rule: rule.id })}
          >
            rule {rule.number} {rule.name}
          </button>
        ))}
      </p>
      {changed && (
        <div className="rounded border border-paper-edge p-2">
          <ImpactStrip
            rulebase={openRulebase.id}
            revision={openRulebase.rulebase?.revision ?? 0}
            steps={steps}
            named={openRulebase.named}
            drop={(probe) => goTo({ page: "rulebase", probe })}
          />
          <button
            type="button"
            className="press press-main mt-2"
            onClick={() => send(`changed sheet ${sheet.name}`, steps)}
          >
            Save the sheet
          </button>
        </div>
      )}
      <p className="mt-2 flex items-center gap-2">
        <button
          type="button"
          className="press text-xs"
          onClick={() => send(`removed sheet ${sheet.name}`, removing)}
          {...preview.on("Remove", () => removing)}
        >
          Remove the sheet
        </button>
        {preview.meant && <ImpactPreview {...preview.meant} />}
      </p>
      <Fault fault={fault} />
    </section>
  );
}
