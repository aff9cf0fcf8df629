import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { api, type Source, type SourceDoc } from "../api/client";
import { goTo, useAddress } from "../base/address";
import { Noteworthy } from "../base/Noteworthy";
import { moment } from "../base/times";
import { useOpenRulebase } from "../session/contexts";
import { ChangeBar } from "../workspace/ChangeBar";
import { ListRow } from "../workspace/ListRow";
import { useWorkspace, useWorkspaceChange } from "../workspace/useWorkspace";
import { SourceForm } from "./SourceForm";
import { SourceNow } from "./SourceNow";

/** How often the page looks whether a source was read meanwhile. */
const LOOKED = 5000;

const BLANK: SourceDoc = {
  name: "",
  kind: "address list",
  address: "",
  into: "",
  every: 60,
  adopt: "after looking",
  mostRemoved: 20,
  key: "",
};

/** Where some of the workspace is kept current from: what each source has, what waits, and how it is set up. */
export function SourcesPage() {
  const openRulebase = useOpenRulebase();
  const workspace = useWorkspace(openRulebase.who);
  const change = useWorkspaceChange(openRulebase.who);
  const address = useAddress();
  const version = workspace.data?.version;
  const sources = useQuery({
    queryKey: ["sources", version],
    queryFn: api.sources,
    enabled: version !== undefined,
    refetchInterval: LOOKED,
    placeholderData: (before) => before,
  });
  const [making, setMaking] = useState(false);
  const choose = (what?: string) => {
    setMaking(false);
    change.forget();
    goTo({ what });
  };
  if (!sources.data) return <p className="p-6 text-dim">Looking where things come from …</p>;
  const all = sources.data.sources;
  const noted = (some: Source[]) =>
    some.map((source) => ({
      key: source.name,
      name: source.name,
      detail:
        state(source) +
        (source.leftOut.length > 0 ? ` · ${source.leftOut.length.toLocaleString("en")} left out` : ""),
      open: () => choose(source.name),
    }));
  const open = making ? undefined : all.find((source) => source.name === address.what);
  return (
    <>
      <div className="sides flex min-h-0 flex-1">
        <div className="side flex w-[400px] shrink-0 flex-col border-edge border-r bg-plate">
          <div className="flex items-center border-edge border-b p-2">
            <b>Sources</b>
            <button
              type="button"
              className="press press-main ml-auto"
              onClick={() => {
                choose(undefined);
                setMaking(true);
              }}
            >
              New source
            </button>
          </div>
          <ul aria-label="Sources" className="min-h-0 flex-1 overflow-auto">
            {all.length === 0 && (
              <li className="p-3">
                Nothing is kept current by itself yet. A source can be a directory over LDAP, a feed or a list
                of catalogue editions on a web server, or a name server.
              </li>
            )}
            {all.map((source) => (
              <li key={source.name}>
                <ListRow isOpen={open?.name === source.name} open={() => choose(source.name)}>
                  <span className="flex justify-between gap-2">
                    <b>{source.name}</b>
                    <span className="text-dim text-xs">{source.kind}</span>
                  </span>
                  <span className="block truncate text-xs">{state(source)}</span>
                </ListRow>
              </li>
            ))}
          </ul>
        </div>
        {making && (
          <SourceForm source={BLANK} isNew version={sources.data.version} change={change} done={choose} />
        )}
        {open && (
          <div key={open.name} className="flex min-w-0 flex-1 flex-col overflow-auto bg-paper">
            <SourceNow source={open} who={openRulebase.who} change={change} />
            <SourceForm
              source={asDoc(open)}
              isNew={false}
              version={sources.data.version}
              change={change}
              done={choose}
            />
          </div>
        )}
        {!making && !open && (
          <Noteworthy
            label="What came last"
            nothing=""
            hint="Choose a source to read it now, to look at what it brought, or to set it up otherwise."
            sections={[
              {
                title: "Could not be read",
                notes: noted(all.filter((source) => source.problem)),
              },
              {
                title: "Waits for you to look",
                why: "Nothing of it is in force before somebody takes it.",
                notes: noted(all.filter((source) => !source.problem && source.waiting > 0)),
              },
              {
                title: "Brought last",
                notes: noted(
                  all
                    .filter((source) => !source.problem && source.waiting === 0 && source.lookedAt)
                    .sort((a, b) => (b.lookedAt ?? "").localeCompare(a.lookedAt ?? "")),
                ),
              },
              {
                title: "Not read yet",
                notes: noted(all.filter((source) => !source.problem && !source.lookedAt)),
              },
            ]}
          />
        )}
      </div>
      <ChangeBar workspace={workspace} change={change} />
    </>
  );
}

/** How a source stands, in a few words. */
export function state(source: Source): string {
  if (source.problem)
    return `could not be read: ${source.problem}${source.goodAt ? `; what it had at ${moment(source.goodAt)} is in force` : ""}`;
  if (source.waiting > 0)
    return `${source.waiting.toLocaleString("en")} ${source.waiting === 1 ? "change waits" : "changes wait"} for you to look`;
  if (!source.lookedAt) return "nobody has read it yet";
  return `as it was at ${moment(source.lookedAt)}${source.told ? `; ${source.told}` : ""}`;
}

/** A source as it is set up, without what is known of it. */
function asDoc(source: Source): SourceDoc {
  const { name, kind, address, into, every, adopt, mostRemoved, directory, key, feed } = source;
  return {
    name,
    kind,
    address,
    into,
    every,
    adopt,
    mostRemoved,
    key,
    ...(directory && { directory }),
    ...(feed && { feed }),
  };
}
