import { useState } from "react";
import type { Group, WorkspaceStep } from "../api/client";
import { TextLine } from "../shared/PartFrame";
import { RemoveButton } from "../workspace/RemoveButton";
import { Uses } from "../workspace/Uses";
import { WorkspaceImpact } from "../workspace/WorkspaceImpact";
import { FromSource } from "./FromSource";
import { NameList } from "./NameList";

type Props = {
  /** Nothing for a new one. */
  group?: Group;
  groups: string[];
  version: number;
  save: (what: string, steps: WorkspaceStep[]) => Promise<boolean>;
  close: () => void;
};

/** One group: what it is called, the groups it lies in, and the rules that name it. */
export function GroupEditor({ group, groups, version, save, close }: Props) {
  const [name, setName] = useState(group?.name ?? "");
  const [parents, setParents] = useState(group?.parents ?? []);
  const [note, setNote] = useState(group?.note ?? "");
  const [leaving, setLeaving] = useState(false);
  const steps: WorkspaceStep[] = [];
  const called = name.trim();
  if (group && called && called !== group.name)
    steps.push({ op: "RENAME", kind: "group", id: group.name, name: called });
  const differs = !group || note !== group.note || parents.join() !== group.parents.join();
  if (called && differs)
    steps.push({
      op: "PUT",
      kind: "group",
      doc: { name: called, parents, note, source: group?.source ?? "" },
    });
  const removing: WorkspaceStep[] = [{ op: "REMOVE", kind: "group", id: group?.name ?? "" }];
  return (
    <form
      aria-label={group ? `Group ${group.name}` : "New group"}
      className="flex min-w-0 flex-1 flex-col gap-2 overflow-auto bg-paper p-4"
      onSubmit={(event) => {
        event.preventDefault();
        if (steps.length > 0) save(`${group ? "changed" : "made"} group ${called}`, steps);
      }}
    >
      <TextLine label="Name" value={name} set={setName} />
      <FromSource source={group?.source ?? ""} />
      <NameList label="Inside" names={parents} known={groups} set={setParents} />
      <TextLine label="Note" value={note} set={setNote} />
      <WorkspaceImpact version={version} steps={leaving ? removing : steps} />
      <div className="flex gap-2">
        <button type="submit" className="press press-main" disabled={steps.length === 0 || leaving}>
          Save
        </button>
        <button type="button" className="press" onClick={close}>
          Close
        </button>
        {group && (
          <RemoveButton
            told={leaving}
            tell={setLeaving}
            remove={() => save(`removed group ${group.name}`, removing)}
          />
        )}
      </div>
      {group && <Uses kind="group" id={group.name} />}
    </form>
  );
}
