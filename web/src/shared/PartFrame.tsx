import { type ReactNode, useState } from "react";
import type { Step } from "../api/client";
import { goTo } from "../base/address";
import { Fault } from "../base/Fault";
import { Term } from "../base/Term";
import type { Word } from "../base/terms";
import { ImpactPreview } from "../impact/ImpactPreview";
import { ImpactStrip } from "../impact/ImpactStrip";
import { useOpenRulebase } from "../session/contexts";
import { useImpactPreview } from "../session/useImpactPreview";
import { useSend } from "../session/useSend";

type Props<T> = {
  kind: "notice" | "lane" | "decryption rule";
  title: string;
  /** The word of our own that the title is, if it is one. */
  term?: Word;
  about: ReactNode;
  parts: T[];
  blank: T;
  named: (part: T) => string;
  show: (part: T) => ReactNode;
  form: (draft: T, set: (draft: T) => void, isNew: boolean) => ReactNode;
};

/** A list of shared parts of one kind, each shown, changed and removed in its place, and a place for a new one. */
export function PartFrame<T extends object>(props: Props<T>) {
  const openRulebase = useOpenRulebase();
  const { kind, title, term, about, parts, blank, named, show, form } = props;
  const [open, setOpen] = useState<string>();
  const [draft, setDraft] = useState(blank);
  const { fault, send } = useSend();
  const preview = useImpactPreview();
  const begin = (key: string, part: T) => {
    setOpen(key);
    setDraft(part);
  };
  const act = (what: string, step: Step) => send(what, [step]).then((kept) => kept && setOpen(undefined));
  const saving: Step = { op: "SAVE_PART", partKind: kind, part: draft };
  const removing: Step = { op: "REMOVE_PART", partKind: kind, id: named(draft) };
  const isChanged = (before: T) => named(draft) !== "" && JSON.stringify(before) !== JSON.stringify(draft);
  const editor = (isNew: boolean, before: T) => (
    <form
      className="mb-1 flex flex-col gap-1.5 rounded border border-rust bg-paper px-2 py-1.5"
      onSubmit={(event) => {
        event.preventDefault();
        act(`${isNew ? "made" : "changed"} ${kind} ${named(draft)}`, saving);
      }}
    >
      {form(draft, setDraft, isNew)}
      {isChanged(before) && (
        <ImpactStrip
          rulebase={openRulebase.id}
          revision={openRulebase.rulebase?.revision ?? 0}
          steps={[saving]}
          named={openRulebase.named}
          drop={(probe) => goTo({ page: "rulebase", probe })}
        />
      )}
      <span className="flex gap-1.5">
        <button type="submit" className="press press-main text-xs">
          Save
        </button>
        <button type="button" className="press text-xs" onClick={() => setOpen(undefined)}>
          Cancel
        </button>
        {!isNew && (
          <button
            type="button"
            className="press ml-auto text-xs"
            onClick={() => act(`removed ${kind} ${named(draft)}`, removing)}
            {...preview.on("Remove", () => [removing])}
          >
            Remove
          </button>
        )}
      </span>
      {preview.meant && <ImpactPreview {...preview.meant} />}
    </form>
  );
  return (
    <section className="mb-4" aria-label={title}>
      <h2 className="mb-1 flex items-center gap-2 font-semibold">
        {term ? <Term word={term}>{title}</Term> : title}
        <button type="button" className="press text-xs" onClick={() => begin(" new", blank)}>
          New
        </button>
      </h2>
      {about}
      {open === " new" && editor(true, blank)}
      {parts.map((part) =>
        open === named(part) ? (
          <div key={named(part)}>{editor(false, part)}</div>
        ) : (
          <button
            key={named(part)}
            type="button"
            className="mb-1 block w-full rounded border border-edge bg-paper px-2 py-1 text-left"
            onClick={() => begin(named(part), part)}
          >
            {show(part)}
          </button>
        ),
      )}
      <Fault fault={fault} />
    </section>
  );
}

type TextProps = {
  label: string;
  value: string;
  set: (value: string) => void;
  fixed?: boolean;
  hint?: string;
};

/** One labelled line of text in a form. */
export function TextLine({ label, value, set, fixed = false, hint }: TextProps) {
  return (
    <label className="flex items-center gap-2 text-xs">
      <span className="w-24 shrink-0 text-dim">{label}</span>
      <input
        value={value}
        disabled={fixed}
        placeholder={hint}
        onChange={(event) => set(event.target.value)}
        className="min-w-0 flex-1 rounded border border-paper-edge bg-ground/40 px-2 py-0.5 placeholder:text-faint"
      />
    </label>
  );
}

type AreaProps = TextProps & { rows: number; mono?: boolean };

/** Several labelled lines of text in a form. */
export function AreaLine({ label, value, set, hint, rows, mono = false }: AreaProps) {
  return (
    <label className="flex gap-2 text-xs">
      <span className="w-24 shrink-0 text-dim">{label}</span>
      <textarea
        value={value}
        rows={rows}
        spellCheck={false}
        placeholder={hint}
        onChange={(event) => set(event.target.value)}
        className={`min-w-0 flex-1 rounded border border-paper-edge bg-ground/40 px-2 py-0.5 placeholder:text-faint ${mono ? "font-mono" : ""}`}
      />
    </label>
  );
}

type PickProps = { label: string; value: string; options: [string, string][]; set: (value: string) => void };

/** One labelled choice in a form. */
export function PickLine({ label, value, options, set }: PickProps) {
  return (
    <label className="flex items-center gap-2 text-xs">
      <span className="w-24 shrink-0 text-dim">{label}</span>
      <select
        value={value}
        onChange={(event) => set(event.target.value)}
        className="rounded border border-paper-edge bg-paper px-1 py-0.5"
      >
        {options.map(([option, text]) => (
          <option key={option} value={option}>
            {text}
          </option>
        ))}
      </select>
    </label>
  );
}
