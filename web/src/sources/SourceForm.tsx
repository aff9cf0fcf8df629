import { useState } from "react";
import { ApiError, api, type SourceDoc, type WorkspaceStep } from "../api/client";
import { PickLine, TextLine } from "../shared/PartFrame";
import { RemoveButton } from "../workspace/RemoveButton";
import type { useWorkspaceChange } from "../workspace/useWorkspace";
import { DirectoryFields, type Ldap, USUAL_LDAP } from "./DirectoryFields";
import { FeedFields } from "./FeedFields";
import { Folded } from "./Folded";

const KINDS: [string, string][] = [
  ["directory", "people and groups from a directory (LDAP)"],
  ["address list", "an address list (web)"],
  ["geofeed", "countries of addresses, a geofeed (web)"],
  ["site categories", "site categories (web)"],
  ["catalogue editions", "editions of the catalogue (web)"],
  ["resolver", "addresses of host names (DNS)"],
];

const EXAMPLES: Record<string, string> = {
  directory: "ldaps://directory.example or ldap://192.0.2.7:389",
  resolver: "dns://192.0.2.53",
  "catalogue editions": "https://catalogue.example/editions.json",
};

const OFTEN: [string, string][] = [
  ["0", "only when somebody reads it"],
  ["5", "every 5 minutes"],
  ["60", "every hour"],
  ["720", "twice a day"],
  ["1440", "every day"],
];

const ADOPT: [string, string][] = [
  ["after looking", "waits for somebody to look at its impact"],
  ["at once", "is taken at once"],
];

type Props = {
  source: SourceDoc;
  isNew: boolean;
  version: number;
  change: ReturnType<typeof useWorkspaceChange>;
  done: (name?: string) => void;
};

/** How a source is set up, tried before it is saved. */
export function SourceForm({ source, isNew, version, change, done }: Props) {
  const [draft, setDraft] = useState(source);
  const [password, setPassword] = useState("");
  const [seen] = useState(version);
  const [leaving, setLeaving] = useState(false);
  const [tried, setTried] = useState<{ lines: string[]; problem: string }>();
  const put = (members: Partial<SourceDoc>) => setDraft({ ...draft, ...members });
  const doc = complete(draft);
  const isChanged = JSON.stringify(doc) !== JSON.stringify(complete(source));
  const steps: WorkspaceStep[] = [{ op: "PUT", kind: "source", doc }];
  const ofDirectory = draft.kind === "directory";
  const save = async () => {
    const what = `${isNew ? "made" : "changed"} source ${doc.name}`;
    const kept = !isChanged || (await change.change(what, steps, seen));
    if (kept && password)
      await change.tried(`kept the password of ${doc.name}`, () => api.setPassword(doc.name, password));
    if (kept) {
      setPassword("");
      done(doc.name);
    }
  };
  const trial = () =>
    api
      .trySource(doc, password || undefined)
      .then(setTried)
      .catch((error) =>
        setTried({ lines: [], problem: error instanceof ApiError ? error.problem.detail : String(error) }),
      );
  return (
    <form
      aria-label={isNew ? "New source" : `Set up ${source.name}`}
      className="flex min-w-0 flex-1 flex-col gap-2 overflow-auto bg-paper p-4"
      onSubmit={(event) => {
        event.preventDefault();
        save();
      }}
    >
      <TextLine label="Name" value={draft.name} fixed={!isNew} set={(name) => put({ name })} />
      <PickLine
        label="What it has"
        value={draft.kind}
        options={KINDS}
        set={(kind) => put({ kind, into: kind === "address list" ? draft.into : "" })}
      />
      <TextLine
        label="Address"
        value={draft.address}
        hint={EXAMPLES[draft.kind] ?? "https://feeds.example/list.csv"}
        set={(address) => put({ address })}
      />
      {draft.kind === "address list" && (
        <TextLine
          label="Kept as list"
          value={draft.into}
          hint="Known scanners"
          set={(into) => put({ into })}
        />
      )}
      {draft.kind === "catalogue editions" && (
        <TextLine
          label="Signed with"
          value={draft.key}
          hint="an Ed25519 key as base64 (X.509 form); empty to check digests only"
          set={(key) => put({ key })}
        />
      )}
      {!ofDirectory && draft.kind !== "resolver" && (
        <FeedFields
          value={draft.feed ?? {}}
          set={(feed) => put({ feed })}
          password={password}
          setPassword={setPassword}
        />
      )}
      {ofDirectory && (
        <DirectoryFields
          value={(draft.directory as Ldap | undefined) ?? USUAL_LDAP}
          set={(directory) => put({ directory })}
          password={password}
          setPassword={setPassword}
        />
      )}
      <PickLine
        label="Read"
        value={String(draft.every)}
        options={OFTEN.some(([one]) => one === String(draft.every)) ? OFTEN : [...OFTEN, often(draft.every)]}
        set={(every) => put({ every: Number(every) })}
      />
      {draft.kind !== "catalogue editions" && (
        <>
          <PickLine label="What is new" value={draft.adopt} options={ADOPT} set={(adopt) => put({ adopt })} />
          <label className="flex items-center gap-2 text-xs">
            <span className="w-24 shrink-0 text-dim">Stops where</span>
            more than
            <input
              type="number"
              min={0}
              max={100}
              value={draft.mostRemoved}
              onChange={(event) => put({ mostRemoved: Number(event.target.value) })}
              className="w-16 rounded border border-paper-edge bg-ground/40 px-2 py-0.5"
            />
            in a hundred of what it brought would go
          </label>
        </>
      )}
      {tried?.problem && <p className="text-madder text-xs">It cannot be read: {tried.problem}</p>}
      {tried && !tried.problem && tried.lines.length === 0 && (
        <p className="text-xs">There is nothing in it.</p>
      )}
      <Folded title="The first of it" lines={tried?.lines ?? []} />
      <div className="flex gap-2">
        <button type="submit" className="press press-main" disabled={!doc.name || !(isChanged || password)}>
          Save
        </button>
        <button type="button" className="press" disabled={!doc.name} onClick={trial}>
          Try it
        </button>
        {isNew ? (
          <button type="button" className="press" onClick={() => done()}>
            Cancel
          </button>
        ) : (
          <RemoveButton
            told={leaving}
            tell={setLeaving}
            remove={() =>
              change
                .change(
                  `removed source ${source.name}`,
                  [{ op: "REMOVE", kind: "source", id: source.name }],
                  seen,
                )
                .then((kept) => kept && done())
            }
            name={source.name}
          />
        )}
      </div>
      {leaving && <p className="text-xs">What it brought stays; it is only no longer kept current.</p>}
    </form>
  );
}

const often = (minutes: number): [string, string] => [String(minutes), `every ${minutes} minutes`];

/** A source as it is sent: what its kind has no use for is left out. */
function complete(draft: SourceDoc): SourceDoc {
  const { directory, feed, ...others } = draft;
  const doc = { ...others, name: draft.name.trim(), address: draft.address.trim() };
  if (draft.kind === "directory") return { ...doc, directory: directory ?? USUAL_LDAP };
  const isSpokenTo = draft.kind !== "resolver" && !!(feed?.login?.trim() || feed?.certificates?.trim());
  return isSpokenTo ? { ...doc, feed } : doc;
}
