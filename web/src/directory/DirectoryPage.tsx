import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { api, type Directory, type Person, type WorkspaceStep } from "../api/client";
import { goTo, useAddress } from "../base/address";
import { LoadFile } from "../base/LoadFile";
import { Noteworthy } from "../base/Noteworthy";
import { useSettled } from "../base/useSettled";
import { VirtualList } from "../base/VirtualList";
import { useOpenRulebase } from "../session/contexts";
import { ChangeBar } from "../workspace/ChangeBar";
import { useWorkspace, useWorkspaceChange } from "../workspace/useWorkspace";
import { GroupEditor } from "./GroupEditor";
import { LoadDirectory, type Loaded } from "./LoadDirectory";
import { PeopleList } from "./PeopleList";
import { PersonEditor } from "./PersonEditor";

const NOBODY: Person = { login: "", name: "", groups: [], allGroups: [], attributes: {}, source: "" };

/** What is open beside the list: somebody, a group, somebody new, or a file that is being looked at. */
type Open =
  | { person: Person; isNew: boolean }
  | { group: string; isNew: boolean }
  | { file: Loaded }
  | undefined;

/** People and groups: found, shown with what rules make of them, changed, and brought in from a file. */
export function DirectoryPage() {
  const openRulebase = useOpenRulebase();
  const workspace = useWorkspace(openRulebase.who);
  const change = useWorkspaceChange(openRulebase.who);
  const address = useAddress();
  const find = address.find ?? "";
  const group = address.what ?? "";
  const version = workspace.data?.version;
  const asked = useSettled(find, 120) ?? "";
  const directory = useQuery({
    queryKey: ["directory", version, asked, group, 0],
    queryFn: () => api.directory(asked, group),
    enabled: version !== undefined,
    placeholderData: (before) => before,
  });
  const [open, setOpen] = useState<Open>();
  const show = (next: Open) => {
    change.forget();
    setOpen(next);
  };
  if (!directory.data) return <p className="p-6 text-dim">Looking who there is …</p>;
  const { data } = directory;
  const save = (what: string, steps: WorkspaceStep[]) =>
    change.change(what, steps, data.version).then((kept) => {
      if (kept) setOpen(undefined);
      return kept;
    });
  return (
    <>
      <div className="sides flex min-h-0 flex-1">
        <div className="side flex w-[430px] shrink-0 flex-col border-edge border-r bg-plate">
          <div className="flex flex-wrap gap-2 border-edge border-b p-2">
            <input
              aria-label="Find people"
              placeholder="login, name, group or attribute"
              value={find}
              onChange={(event) => goTo({ find: event.target.value || undefined })}
              className="min-w-0 flex-1 rounded border border-edge bg-ground/40 px-2 py-1 placeholder:text-faint"
            />
            <button type="button" className="press" onClick={() => show({ person: NOBODY, isNew: true })}>
              New person
            </button>
            <LoadFile
              label="From a file"
              what="People and groups as CSV or LDIF"
              accept=".csv,.ldif,.ldf,.txt,text/*"
              load={(name, text) => show({ file: { name, text } })}
            />
          </div>
          <p className="border-edge border-b px-3 py-1 text-dim text-xs">{counted(data, group)}</p>
          {data.people === 0 ? (
            <p className="p-3">
              Nobody is known yet. Bring people in from a file, CSV or LDIF, or add the first one by hand.
            </p>
          ) : (
            <PeopleList
              version={version}
              text={asked}
              group={group}
              matching={data.matching}
              open={open && "person" in open ? open.person.login : undefined}
              show={(person) => show({ person, isNew: false })}
            />
          )}
        </div>
        <Groups
          directory={data}
          chosen={group}
          choose={(name) => {
            goTo({ what: name || undefined });
            show(name ? { group: name, isNew: false } : undefined);
          }}
          make={() => show({ group: "", isNew: true })}
        />
        {open === undefined && (
          <Noteworthy
            label="Worth a look in the directory"
            nothing={data.people === 0 ? "" : "Everybody is in a group, and every group has somebody in it."}
            hint="Choose somebody to see their groups, attributes and rules, or a group to see who is in it."
            sections={[
              {
                title: "In no group",
                why: "Rules about groups never match them.",
                total: data.inNoGroup,
                notes: data.firstInNoGroup.map((person) => ({
                  key: person.login,
                  name: person.name,
                  detail: person.login,
                  open: () => show({ person, isNew: false }),
                })),
              },
              {
                title: "Groups with nobody in them",
                why: "A rule about one matches nobody.",
                notes: data.groups
                  .filter((one) => one.members === 0)
                  .map(({ name }) => ({
                    key: name,
                    name,
                    open: () => {
                      goTo({ what: name });
                      show({ group: name, isNew: false });
                    },
                  })),
              },
              {
                title: "Largest groups",
                notes: [...data.groups]
                  .filter((one) => one.members > 0)
                  .sort((a, b) => b.members - a.members)
                  .slice(0, 5)
                  .map(({ name, members }) => ({
                    key: name,
                    name,
                    detail: `${members.toLocaleString("en")} ${members === 1 ? "person" : "people"}`,
                    open: () => {
                      goTo({ what: name });
                      show({ group: name, isNew: false });
                    },
                  })),
              },
            ]}
          />
        )}
        {open && "person" in open && (
          <PersonEditor
            key={open.person.login}
            person={open.person}
            isNew={open.isNew}
            groups={data.groups.map((one) => one.name)}
            version={data.version}
            save={save}
            close={() => show(undefined)}
          />
        )}
        {open && "group" in open && (
          <GroupEditor
            key={open.group}
            group={data.groups.find((one) => one.name === open.group)}
            groups={data.groups.map((one) => one.name)}
            version={data.version}
            save={save}
            close={() => {
              goTo({ what: undefined });
              show(undefined);
            }}
          />
        )}
        {open && "file" in open && (
          <LoadDirectory
            key={open.file.name + open.file.text.length}
            file={open.file}
            version={data.version}
            save={save}
            close={() => show(undefined)}
          />
        )}
      </div>
      <ChangeBar workspace={workspace} change={change} />
    </>
  );
}

function counted({ people, matching }: Directory, group: string): string {
  const many = (count: number) => count.toLocaleString("en");
  const within = group ? ` in ${group}` : "";
  return matching === people
    ? `${many(people)} people`
    : `${many(matching)} of ${many(people)} people${within}`;
}

type GroupsProps = {
  directory: Directory;
  chosen: string;
  choose: (group: string) => void;
  make: () => void;
};

/** All groups, with how many are in each; choosing one shows only its people. */
function Groups({ directory, chosen, choose, make }: GroupsProps) {
  const [text, setText] = useState("");
  const wanted = text.toLowerCase();
  const shown = directory.groups.filter((group) => group.name.toLowerCase().includes(wanted));
  return (
    <div className="side flex w-[270px] shrink-0 flex-col border-edge border-r bg-plate">
      <div className="flex gap-2 border-edge border-b p-2">
        <input
          aria-label="Find a group"
          placeholder={`find among ${directory.groups.length} groups`}
          value={text}
          onChange={(event) => setText(event.target.value)}
          className="min-w-0 flex-1 rounded border border-edge bg-ground/40 px-2 py-1 placeholder:text-faint"
        />
        <button type="button" className="press" onClick={make}>
          New group
        </button>
      </div>
      {wanted && (
        <p className="border-edge border-b px-3 py-1 text-dim text-xs">
          {shown.length.toLocaleString("en")} of {directory.groups.length.toLocaleString("en")}
        </p>
      )}
      <VirtualList label="Groups" items={shown} keyOf={(group) => group.name} height={29}>
        {(group) => (
          <button
            type="button"
            aria-pressed={chosen === group.name}
            onClick={() => choose(chosen === group.name ? "" : group.name)}
            className={`flex w-full justify-between gap-2 border-edge border-b px-3 py-1 text-left ${chosen === group.name ? "bg-rust-wash" : ""}`}
          >
            <span className="truncate">{group.name}</span>
            <span className="text-dim text-xs">{group.members.toLocaleString("en")}</span>
          </button>
        )}
      </VirtualList>
    </div>
  );
}
