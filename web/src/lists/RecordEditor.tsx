import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { api, type WorkspaceStep } from "../api/client";
import { valuesOf } from "../base/valuesOf";
import { AreaLine, TextLine } from "../shared/PartFrame";
import { RemoveButton } from "../workspace/RemoveButton";
import { Uses } from "../workspace/Uses";
import type { useWorkspaceChange } from "../workspace/useWorkspace";
import { WorkspaceImpact } from "../workspace/WorkspaceImpact";

/** A record as it is written: its name, and values of whatever its kind has. */
type Draft = { id: string; values: string };

/** How a kind of record is written; `many` has a value a line. */
type Shape = {
  id: string;
  hint: string;
  values?: string;
  many?: boolean;
  example?: string;
  /** Other names are other records: what is known of them does not go over. */
  fixed?: boolean;
  doc: (draft: Draft, total: number) => Record<string, unknown>;
  valuesOf: (doc: Record<string, unknown>) => string[];
};

const list = (doc: Record<string, unknown>, member: string) => (doc[member] as string[] | undefined) ?? [];

const SHAPES: Record<string, Shape> = {
  "address list": {
    id: "Name",
    hint: "Known scanners",
    values: "Addresses",
    many: true,
    example: "203.0.113.7 · 203.0.113.0/28 · 203.0.113.20-203.0.113.29 · 2001:db8::/48, one a line",
    doc: ({ id, values }) => ({ name: id, addresses: valuesOf(values) }),
    valuesOf: (doc) => list(doc, "addresses"),
  },
  country: {
    id: "Code",
    hint: "two capital letters, such as XA",
    values: "Networks",
    many: true,
    example: "203.0.113.0/26 · 2001:db8:a000::/36, one a line",
    fixed: true,
    doc: ({ id, values }) => ({ code: id, networks: valuesOf(values) }),
    valuesOf: (doc) => list(doc, "networks"),
  },
  host: {
    id: "Host name",
    hint: "updates.maker.example",
    values: "Addresses",
    many: true,
    example: "203.0.113.30 · 2001:db8::30, one a line",
    fixed: true,
    doc: ({ id, values }) => ({ host: id, addresses: valuesOf(values) }),
    valuesOf: (doc) => list(doc, "addresses"),
  },
  site: {
    id: "Site",
    hint: "shop.example, or *.shop.example for all below",
    values: "Category",
    fixed: true,
    doc: ({ id, values }) => ({ names: id, category: values.trim() }),
    valuesOf: (doc) => [String(doc.category ?? "")],
  },
  "device kind": {
    id: "Name",
    hint: "company laptop",
    doc: ({ id }, total) => ({ name: id, position: total }),
    valuesOf: () => [],
  },
};

type Props = {
  kind: string;
  id: string;
  isNew: boolean;
  /** How many there are of the kind; a new one comes last. */
  total: number;
  version: number;
  change: ReturnType<typeof useWorkspaceChange>;
  close: () => void;
};

/** One record of a list, once it is known in full. */
export function RecordEditor(props: Props) {
  const { kind, id, isNew } = props;
  const record = useQuery({
    queryKey: ["record", props.version, kind, id],
    queryFn: () => api.record(kind, id),
    enabled: !isNew,
    placeholderData: (before) => before,
  });
  if (isNew) return <Form {...props} doc={{}} />;
  if (!record.data)
    return (
      <p className="min-w-0 flex-1 bg-paper p-6 text-dim">
        {record.isError ? "It is not there any more." : "Looking …"}
      </p>
    );
  return <Form {...props} doc={record.data.doc as Record<string, unknown>} />;
}

function Form({
  kind,
  id,
  isNew,
  total,
  version,
  change,
  close,
  doc,
}: Props & { doc: Record<string, unknown> }) {
  const shape = SHAPES[kind];
  const known: Draft = { id, values: shape.valuesOf(doc).join("\n") };
  const [draft, setDraft] = useState(known);
  const [seen] = useState(version);
  const [leaving, setLeaving] = useState(false);
  const name = draft.id.trim();
  const steps: WorkspaceStep[] = [];
  if (!isNew && name && name !== id) steps.push({ op: "RENAME", kind, id, name });
  if (name && (isNew || draft.values !== known.values))
    steps.push({ op: "PUT", kind, doc: shape.doc({ id: name, values: draft.values }, total) });
  const removing: WorkspaceStep[] = [{ op: "REMOVE", kind, id }];
  const save = (what: string, all: WorkspaceStep[]) =>
    change.change(what, all, seen).then((kept) => kept && close());
  return (
    <form
      aria-label={isNew ? `New ${kind}` : `${kind} ${id}`}
      className="flex min-w-0 flex-1 flex-col gap-2 overflow-auto bg-paper p-4"
      onSubmit={(event) => {
        event.preventDefault();
        if (steps.length > 0) save(`${isNew ? "made" : "changed"} ${kind} ${name}`, steps);
      }}
    >
      <TextLine
        label={shape.id}
        value={draft.id}
        hint={shape.hint}
        fixed={!isNew && shape.fixed}
        set={(text) => setDraft({ ...draft, id: text })}
      />
      {shape.values && shape.many && (
        <AreaLine
          label={shape.values}
          value={draft.values}
          rows={12}
          hint={shape.example}
          mono
          set={(text) => setDraft({ ...draft, values: text })}
        />
      )}
      {shape.values && !shape.many && (
        <TextLine
          label={shape.values}
          value={draft.values}
          set={(text) => setDraft({ ...draft, values: text })}
        />
      )}
      <WorkspaceImpact version={version} steps={leaving ? removing : steps} />
      <div className="flex gap-2">
        <button type="submit" className="press press-main" disabled={steps.length === 0 || leaving}>
          Save
        </button>
        <button type="button" className="press" onClick={close}>
          Close
        </button>
        {!isNew && (
          <RemoveButton
            told={leaving}
            tell={setLeaving}
            remove={() => save(`removed ${kind} ${id}`, removing)}
            name={id}
          />
        )}
      </div>
      {!isNew && kind !== "site" && <Uses kind={kind} id={id} />}
    </form>
  );
}
