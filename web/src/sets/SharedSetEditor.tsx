import { useState } from "react";
import type { SharedSet, WorkspaceStep } from "../api/client";
import { ValueEditor } from "../editor/ValueEditor";
import { SET_KINDS } from "../rules/fields";
import { PickLine, TextLine } from "../shared/PartFrame";
import { RemoveButton } from "../workspace/RemoveButton";
import { Uses } from "../workspace/Uses";
import type { useWorkspaceChange } from "../workspace/useWorkspace";
import { WorkspaceImpact } from "../workspace/WorkspaceImpact";

type Props = {
  rulebase: string;
  set: SharedSet;
  isNew: boolean;
  version: number;
  change: ReturnType<typeof useWorkspaceChange>;
  /** The other shared sets of its kind. */
  others: string[];
  /** What is said of it beside others, such as that it holds the same as one. */
  relations: string[];
  done: () => void;
};

/** A named set that all gateways share: what a change of it does is told for each of them first. */
export function SharedSetEditor(props: Props) {
  const { rulebase, set, isNew, version, change, others, relations, done } = props;
  const [draft, setDraft] = useState(set);
  const [leaving, setLeaving] = useState(false);
  const [into, setInto] = useState("");
  const [seen] = useState(version);
  const name = draft.name.trim();
  const id = `${set.kind}:${set.name}`;
  const steps: WorkspaceStep[] = [];
  if (!isNew && name && name !== set.name) steps.push({ op: "RENAME", kind: "set", id, name });
  if (name && draft.values.length > 0 && JSON.stringify({ ...draft, name: set.name }) !== JSON.stringify(set))
    steps.push({ op: "PUT", kind: "set", doc: { ...draft, name } });
  const removing: WorkspaceStep[] = [{ op: "REMOVE", kind: "set", id }];
  const merging: WorkspaceStep[] = [{ op: "MERGE_SETS", id, into }];
  const told = leaving ? removing : into ? merging : steps;
  const save = (what: string, all: WorkspaceStep[]) =>
    change.change(what, all, seen).then((kept) => kept && done());
  return (
    <form
      aria-label={isNew ? "New shared set" : `Shared set ${set.name}`}
      className="flex min-w-0 flex-1 flex-col gap-2 overflow-auto bg-paper p-4"
      onSubmit={(event) => {
        event.preventDefault();
        if (steps.length > 0) save(`${isNew ? "made" : "changed"} shared set ${name}`, steps);
      }}
    >
      <p className="text-dim">
        All gateways share it. A set of a rulebase's own with this name goes before it there.
      </p>
      {relations.map((line) => (
        <p key={line} className="text-xs">
          {line}
        </p>
      ))}
      <TextLine label="Name" value={draft.name} set={(text) => setDraft({ ...draft, name: text })} />
      {isNew && (
        <PickLine
          label="Holds"
          value={draft.kind}
          options={SET_KINDS.map((kind) => [kind, kind])}
          set={(kind) => setDraft({ ...draft, kind, values: [] })}
        />
      )}
      <TextLine label="Note" value={draft.note} set={(note) => setDraft({ ...draft, note })} />
      <div className="flex h-[280px] flex-col">
        <ValueEditor
          key={draft.kind}
          rulebase={rulebase}
          kind={draft.kind}
          label={draft.kind}
          field={{ sense: "is", values: draft.values }}
          canNegate={false}
          focused={false}
          onChange={(field) => setDraft({ ...draft, values: field.values })}
        />
      </div>
      <WorkspaceImpact version={version} steps={told} />
      <div className="flex flex-wrap items-center gap-2">
        <button
          type="submit"
          className="press press-main"
          disabled={steps.length === 0 || leaving || into !== ""}
        >
          Save
        </button>
        {!isNew && others.length > 0 && (
          <>
            <select
              aria-label="Merge it into"
              value={into}
              onChange={(event) => {
                setLeaving(false);
                setInto(event.target.value);
              }}
              className="rounded border border-paper-edge bg-paper px-1 py-0.5 text-xs"
            >
              <option value="">merge it into …</option>
              {others.map((other) => (
                <option key={other} value={other}>
                  {other}
                </option>
              ))}
            </select>
            {into && (
              <button
                type="button"
                className="press press-main"
                onClick={() => save(`merged set ${set.name} into ${into}`, merging)}
              >
                Merge, as told above
              </button>
            )}
          </>
        )}
        {!isNew && (
          <RemoveButton
            told={leaving}
            tell={(told) => {
              setInto("");
              setLeaving(told);
            }}
            remove={() => save(`removed shared set ${set.name}`, removing)}
          />
        )}
      </div>
      {!isNew && <Uses kind="set" id={id} />}
    </form>
  );
}
