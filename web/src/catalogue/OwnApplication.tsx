import { useState } from "react";
import type { Application, WorkspaceStep } from "../api/client";
import { valuesOf } from "../base/valuesOf";
import { NameList } from "../directory/NameList";
import { PickLine, TextLine } from "../shared/PartFrame";
import { RemoveButton } from "../workspace/RemoveButton";
import { Uses } from "../workspace/Uses";
import { useWorkspace, useWorkspaceChange } from "../workspace/useWorkspace";
import { WorkspaceImpact } from "../workspace/WorkspaceImpact";

const EXPOSURES = ["slight", "moderate", "serious", "severe"];
const WORK_VALUES = ["none", "some", "core"];
const CONTENTS = ["plain", "encrypted"];
const picks = (words: string[]): [string, string][] => words.map((word) => [word, word]);

const BLANK = {
  name: "",
  category: "",
  family: "",
  provider: "",
  exposure: "slight",
  workValue: "some",
  content: "plain",
  usualPorts: [] as string[],
  ridesOn: [] as string[],
  needs: [] as string[],
  features: [] as string[],
  description: "",
  signatures: [] as string[],
};

type Props = {
  who: string;
  /** Nothing for a new one. */
  application?: Application;
  all: Application[];
  done: (name?: string) => void;
};

/** An application of the organisation's own, beside those of the edition: written, changed and removed with its impact first. */
export function OwnApplication({ who, application, all, done }: Props) {
  const workspace = useWorkspace(who);
  const change = useWorkspaceChange(who);
  const version = workspace.data?.version ?? 0;
  const [draft, setDraft] = useState(application ? without(application) : BLANK);
  const [ports, setPorts] = useState(draft.usualPorts.join(", "));
  const [features, setFeatures] = useState(draft.features.join(", "));
  const [signatures, setSignatures] = useState(draft.signatures.join("\n"));
  const [leaving, setLeaving] = useState(false);
  const names = all.filter((one) => one.name !== application?.name).map((one) => one.name);
  const doc = {
    ...draft,
    name: draft.name.trim(),
    usualPorts: valuesOf(ports),
    features: valuesOf(features),
    signatures: signatures.split("\n").flatMap((line) => line.trim() || []),
  };
  const complete = doc.name !== "" && doc.category.trim() !== "";
  const differs = !application || JSON.stringify(doc) !== JSON.stringify(without(application));
  const putting: WorkspaceStep[] = complete && differs ? [{ op: "PUT", kind: "application", doc }] : [];
  const removing: WorkspaceStep[] = [{ op: "REMOVE", kind: "application", id: application?.name ?? "" }];
  const save = (what: string, steps: WorkspaceStep[], next?: string) =>
    change.change(what, steps).then((kept) => kept && done(next));
  const set = (more: Partial<typeof BLANK>) => setDraft({ ...draft, ...more });
  return (
    <form
      aria-label={application ? `Own application ${application.name}` : "New application"}
      className="side flex w-[420px] shrink-0 flex-col gap-1.5 overflow-auto border-edge border-l bg-plate p-3"
      onSubmit={(event) => {
        event.preventDefault();
        if (putting.length > 0)
          save(`${application ? "changed" : "made"} application ${doc.name}`, putting, doc.name);
      }}
    >
      <h2 className="font-semibold">{application ? application.name : "New application"}</h2>
      <p className="text-dim text-xs">
        Your own, beside those of the edition; it stays when another edition comes into force.
      </p>
      <TextLine label="Name" value={draft.name} set={(name) => set({ name })} fixed={!!application} />
      <TextLine label="Category" value={draft.category} set={(category) => set({ category })} />
      <TextLine label="Family" value={draft.family} set={(family) => set({ family })} />
      <TextLine label="Provider" value={draft.provider} set={(provider) => set({ provider })} />
      <PickLine
        label="Exposure"
        value={draft.exposure}
        options={picks(EXPOSURES)}
        set={(exposure) => set({ exposure })}
      />
      <PickLine
        label="Work value"
        value={draft.workValue}
        options={picks(WORK_VALUES)}
        set={(workValue) => set({ workValue })}
      />
      <PickLine
        label="Content"
        value={draft.content}
        options={picks(CONTENTS)}
        set={(content) => set({ content })}
      />
      <TextLine
        label="Usual ports"
        value={ports}
        set={setPorts}
        hint="tcp/8443, udp/5000-5100; none for any"
      />
      <NameList label="Rides on" names={draft.ridesOn} known={names} set={(ridesOn) => set({ ridesOn })} />
      <NameList label="Needs" names={draft.needs} known={names} set={(needs) => set({ needs })} />
      <TextLine label="Features" value={features} set={setFeatures} hint="view, change, upload" />
      <label className="grid grid-cols-[90px_1fr] gap-2 text-xs">
        <span className="text-dim">Signatures</span>
        <textarea
          value={signatures}
          rows={3}
          spellCheck={false}
          placeholder={"server name under example.example\nfeature upload: method is POST"}
          onChange={(event) => setSignatures(event.target.value)}
          className="rounded border border-edge bg-paper px-1 font-mono"
        />
      </label>
      <TextLine label="Description" value={draft.description} set={(description) => set({ description })} />
      <WorkspaceImpact
        version={version}
        steps={leaving ? removing : putting}
        missing={complete ? undefined : `Give it ${missingOf(doc)} to see what it would do.`}
      />
      {change.fault && (
        <p role="alert" className="text-madder text-xs">
          {change.fault}
        </p>
      )}
      <div className="flex gap-2">
        <button type="submit" className="press press-main" disabled={putting.length === 0 || leaving}>
          Save
        </button>
        <button type="button" className="press" onClick={() => done(application?.name)}>
          Close
        </button>
        {application && (
          <RemoveButton
            told={leaving}
            tell={setLeaving}
            remove={() => save(`removed application ${application.name}`, removing)}
          />
        )}
      </div>
      {application && <Uses kind="application" id={application.name} />}
    </form>
  );
}

function missingOf({ name, category }: { name: string; category: string }): string {
  if (name !== "") return "a category";
  return category.trim() === "" ? "a name and a category" : "a name";
}

function without(application: Application): typeof BLANK {
  const { own: _, ...doc } = application;
  return { ...BLANK, ...doc };
}
