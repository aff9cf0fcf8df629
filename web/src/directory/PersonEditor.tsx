import { useState } from "react";
import type { Person, WorkspaceStep } from "../api/client";
import { Link } from "../base/Link";
import { AreaLine, TextLine } from "../shared/PartFrame";
import { RemoveButton } from "../workspace/RemoveButton";
import { Uses } from "../workspace/Uses";
import { WorkspaceImpact } from "../workspace/WorkspaceImpact";
import { FromSource } from "./FromSource";
import { NameList } from "./NameList";

type Props = {
  person: Person;
  isNew: boolean;
  groups: string[];
  version: number;
  save: (what: string, steps: WorkspaceStep[]) => Promise<boolean>;
  close: () => void;
};

/** One person: who they are, which groups they are in, what is said of them, and what a change of that does. */
export function PersonEditor({ person, isNew, groups, version, save, close }: Props) {
  const [login, setLogin] = useState(person.login);
  const [name, setName] = useState(person.name);
  const [own, setOwn] = useState(person.groups);
  const [attributes, setAttributes] = useState(written(person.attributes));
  const [leaving, setLeaving] = useState(false);
  const doc = {
    login: login.trim(),
    name: name.trim(),
    groups: own,
    attributes: read(attributes),
    source: person.source,
  };
  const { allGroups: _, ...before } = person;
  const changed = login.trim() !== "" && JSON.stringify(doc) !== JSON.stringify({ ...before });
  const putting: WorkspaceStep[] = changed ? [{ op: "PUT", kind: "person", doc }] : [];
  const removing: WorkspaceStep[] = [{ op: "REMOVE", kind: "person", id: person.login }];
  const through = person.allGroups.filter((group) => !person.groups.includes(group));
  return (
    <form
      aria-label={isNew ? "New person" : `Person ${person.name}`}
      className="flex min-w-0 flex-1 flex-col gap-2 overflow-auto bg-paper p-4"
      onSubmit={(event) => {
        event.preventDefault();
        if (putting.length > 0) save(`${isNew ? "added" : "changed"} ${doc.login}`, putting);
      }}
    >
      <TextLine label="Login" value={login} set={setLogin} fixed={!isNew} />
      <TextLine label="Name" value={name} set={setName} />
      <FromSource source={person.source} />
      <NameList label="Groups" names={own} known={groups} set={setOwn} />
      {through.length > 0 && <p className="text-dim text-xs">By those also in {through.join(", ")}.</p>}
      <AreaLine
        label="Attributes"
        value={attributes}
        rows={3}
        hint="home port=Saltmere, one a line"
        set={setAttributes}
      />
      <WorkspaceImpact version={version} steps={leaving ? removing : putting} />
      <div className="flex flex-wrap gap-2">
        <button type="submit" className="press press-main" disabled={!changed || leaving}>
          Save
        </button>
        <button type="button" className="press" onClick={close}>
          Close
        </button>
        {!isNew && (
          <>
            <Link to={{ page: "reach", who: person.login }} className="press">
              What they can reach
            </Link>
            <RemoveButton
              told={leaving}
              tell={setLeaving}
              remove={() => save(`removed ${person.login}`, removing)}
            />
          </>
        )}
      </div>
      {!isNew && <Uses kind="person" id={person.login} />}
    </form>
  );
}

function written(attributes: Record<string, string>): string {
  return Object.entries(attributes)
    .map(([key, value]) => `${key}=${value}`)
    .join("\n");
}

/** Attributes from lines; a line without a sign says nothing yet. */
function read(text: string): Record<string, string> {
  const attributes: Record<string, string> = {};
  for (const line of text.split("\n")) {
    const at = line.indexOf("=");
    if (at > 0 && line.slice(at + 1).trim()) attributes[line.slice(0, at).trim()] = line.slice(at + 1).trim();
  }
  return attributes;
}
