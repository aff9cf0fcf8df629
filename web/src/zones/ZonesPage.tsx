import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { api, type Band, type Rulebase, type WorkspaceStep, type Zone } from "../api/client";
import { goTo, useAddress } from "../base/address";
import { Noteworthy } from "../base/Noteworthy";
import { VirtualList } from "../base/VirtualList";
import { valuesOf } from "../base/valuesOf";
import { rules } from "../rules/order";
import { useOpenRulebase } from "../session/contexts";
import { AreaLine, PickLine, TextLine } from "../shared/PartFrame";
import { ChangeBar } from "../workspace/ChangeBar";
import { ListRow } from "../workspace/ListRow";
import { RemoveButton } from "../workspace/RemoveButton";
import { Uses } from "../workspace/Uses";
import { useWorkspace, useWorkspaceChange } from "../workspace/useWorkspace";
import { WorkspaceImpact } from "../workspace/WorkspaceImpact";
import { AddressLine } from "./AddressLine";

const BLANK: Omit<Zone, "position"> = { name: "", side: "inside", networks: [], note: "" };
const NEW = "";

const SIDES: [string, string][] = [
  ["inside", "inside: the company's own"],
  ["outside", "outside: everybody else's"],
  ["gateway", "the gateway itself"],
];

/** The zones and the networks behind them, on the line of addresses; each changed with its impact first. */
export function ZonesPage() {
  const openRulebase = useOpenRulebase();
  const workspace = useWorkspace(openRulebase.who);
  const change = useWorkspaceChange(openRulebase.who);
  const address = useAddress();
  const version = workspace.data?.version;
  const zones = useQuery({
    queryKey: ["zones", version],
    queryFn: api.zones,
    enabled: version !== undefined,
    placeholderData: (before) => before,
  });
  const [making, setMaking] = useState(false);
  const [text, setText] = useState("");
  const choose = (what?: string) => {
    setMaking(false);
    change.forget();
    goTo({ what });
  };
  if (!zones.data) return <p className="p-6 text-dim">Looking what lies where …</p>;
  const all = zones.data.zones;
  const wanted = text.trim().toLowerCase();
  const shown = all.filter((zone) =>
    [zone.name, ...zone.networks].some((said) => said.toLowerCase().includes(wanted)),
  );
  const open = making ? BLANK : all.find((zone) => zone.name === address.what);
  const times = openRulebase.rulebase && naming(openRulebase.rulebase);
  const noted = ({ name }: Zone, detail: string) => ({ key: name, name, detail, open: () => choose(name) });
  const overlaps = zones.data.line.filter((band) => band.zones.length > 1).length;
  const gaps = zones.data.line.filter((band) => band.zones.length === 0).length;
  return (
    <>
      <div className="shrink-0 border-edge border-b bg-plate px-3 py-2">
        <AddressLine
          line={zones.data.line}
          zones={all}
          chosen={open?.name}
          choose={(zone) => choose(zone === open?.name ? undefined : zone)}
        />
        <p className="mt-1 text-dim text-xs">
          {all.length} zones.{" "}
          {overlaps > 0
            ? `${overlaps} ${overlaps === 1 ? "run of addresses lies" : "runs of addresses lie"} behind more than one zone: there a rule about either zone matches. `
            : "No address lies behind two zones. "}
          {gaps > 0 &&
            `${gaps} ${gaps === 1 ? "run is" : "runs are"} nobody's: no connection comes from or goes there.`}
        </p>
      </div>
      <div className="sides flex min-h-0 flex-1">
        <div className="side flex w-[400px] shrink-0 flex-col border-edge border-r bg-plate">
          <div className="flex items-center gap-2 border-edge border-b p-2">
            <input
              aria-label="Find a zone"
              placeholder={`find among ${all.length} zones, by name or network`}
              value={text}
              onChange={(event) => setText(event.target.value)}
              className="min-w-0 flex-1 rounded border border-edge bg-ground/40 px-2 py-1 placeholder:text-faint"
            />
            <button
              type="button"
              className="press press-main"
              onClick={() => {
                choose(undefined);
                setMaking(true);
              }}
            >
              New zone
            </button>
          </div>
          <VirtualList
            label="Zones"
            items={shown}
            keyOf={(zone) => zone.name}
            height={48}
            nothing={
              <p className="p-3">
                {all.length === 0
                  ? "Begin with three: what is inside, everything else (leave its networks empty), and the gateway itself."
                  : "No zone has that in its name or networks."}
              </p>
            }
          >
            {(zone) => (
              <ListRow isOpen={open?.name === zone.name} open={() => choose(zone.name)}>
                <span className="flex justify-between gap-2">
                  <b>{zone.name}</b>
                  <span className="text-dim text-xs">{zone.side}</span>
                </span>
                <span className="block truncate text-dim text-xs">
                  {zone.networks.length === 0
                    ? "everything that lies behind no other zone"
                    : zone.networks.join(", ")}
                </span>
              </ListRow>
            )}
          </VirtualList>
        </div>
        {open ? (
          <ZoneEditor
            key={making ? NEW : open.name}
            zone={open}
            isNew={making}
            version={zones.data.version}
            change={change}
            done={(name) => choose(name)}
          />
        ) : (
          <Noteworthy
            label="Worth a look among the zones"
            nothing="Every address lies behind one zone, and every zone is named by a rule here."
            hint="Choose a zone on the line or in the list to see what lies behind it and which rules name it."
            sections={[
              {
                title: "Behind no zone",
                why: "No connection comes from or goes to these addresses, whatever a rule says.",
                notes: zones.data.line
                  .filter((band) => band.zones.length === 0)
                  .map((band) => ({ key: band.from, name: run(band) })),
              },
              {
                title: "Behind more than one zone",
                why: "A rule about any of the zones matches here.",
                notes: zones.data.line
                  .filter((band) => band.zones.length > 1)
                  .map((band) => ({
                    key: band.from,
                    name: run(band),
                    detail: band.zones.join(" and "),
                    open: () => choose(band.zones[0]),
                  })),
              },
              {
                title: `Named by no rule of ${openRulebase.rulebase?.name ?? "this rulebase"}`,
                why: "Only rules that hold for any zone match there.",
                notes: all
                  .filter(({ name }) => times && !times.has(name))
                  .map((zone) => noted(zone, zone.note)),
              },
              {
                title: `Named most in ${openRulebase.rulebase?.name ?? "this rulebase"}`,
                notes: all
                  .filter(({ name }) => times?.has(name))
                  .sort((a, b) => (times?.get(b.name) ?? 0) - (times?.get(a.name) ?? 0))
                  .slice(0, 8)
                  .map((zone) => noted(zone, `by ${times?.get(zone.name)} rules · ${zone.note}`)),
              },
            ]}
          />
        )}
      </div>
      <ChangeBar workspace={workspace} change={change} />
    </>
  );
}

/** A run of addresses in words. */
const run = ({ from, to }: Band) => (from === to ? from : `${from} to ${to}`);

/** How many rules name each zone. */
export function naming(rulebase: Rulebase): Map<string, number> {
  const times = new Map<string, number>();
  for (const { fields } of rules(rulebase)) {
    const named = ["from.zones", "to.zones"].flatMap((field) => fields[field]?.values ?? []);
    for (const zone of new Set(named)) times.set(zone, (times.get(zone) ?? 0) + 1);
  }
  return times;
}

type EditorProps = {
  zone: Omit<Zone, "position">;
  isNew: boolean;
  version: number;
  change: ReturnType<typeof useWorkspaceChange>;
  done: (name?: string) => void;
};

function ZoneEditor({ zone, isNew, version, change, done }: EditorProps) {
  const [draft, setDraft] = useState(zone);
  const [networks, setNetworks] = useState(zone.networks.join("\n"));
  // What was being written belongs to the version it was begun on; a newer one is told when it is saved.
  const [seen] = useState(version);
  const name = draft.name.trim();
  const says: typeof zone = { ...draft, name: isNew ? name : zone.name, networks: valuesOf(networks) };
  const steps: WorkspaceStep[] = [];
  if (!isNew && name !== zone.name && name) steps.push({ op: "RENAME", kind: "zone", id: zone.name, name });
  if (name && JSON.stringify({ ...says, name }) !== JSON.stringify(zone))
    steps.push({ op: "PUT", kind: "zone", doc: { ...says, name } });
  const removing: WorkspaceStep[] = [{ op: "REMOVE", kind: "zone", id: zone.name }];
  const [leaving, setLeaving] = useState(false);
  const save = (what: string, all: WorkspaceStep[], next?: string) =>
    change.change(what, all, seen).then((kept) => kept && done(next));
  return (
    <form
      aria-label={isNew ? "New zone" : `Zone ${zone.name}`}
      className="flex min-w-0 flex-1 flex-col gap-2 overflow-auto bg-paper p-4"
      onSubmit={(event) => {
        event.preventDefault();
        if (steps.length > 0) save(`${isNew ? "made" : "changed"} zone ${name}`, steps, name);
      }}
    >
      <TextLine label="Name" value={draft.name} set={(text) => setDraft({ ...draft, name: text })} />
      <PickLine
        label="Side"
        value={draft.side}
        options={SIDES}
        set={(side) => setDraft({ ...draft, side })}
      />
      <AreaLine
        label="Networks"
        value={networks}
        rows={5}
        hint="10.20.0.0/16 · 10.20.0.1-10.20.0.9 · 2001:db8:20::/48, one a line; empty for everything that lies behind no other zone"
        mono
        set={setNetworks}
      />
      <TextLine label="Note" value={draft.note} set={(note) => setDraft({ ...draft, note })} />
      <WorkspaceImpact version={version} steps={leaving ? removing : steps} />
      <div className="flex gap-2">
        <button type="submit" className="press press-main" disabled={steps.length === 0 || leaving}>
          Save
        </button>
        {isNew ? (
          <button type="button" className="press" onClick={() => done()}>
            Cancel
          </button>
        ) : (
          <RemoveButton
            told={leaving}
            tell={setLeaving}
            remove={() => save(`removed zone ${zone.name}`, removing)}
            name={zone.name}
          />
        )}
      </div>
      {!isNew && <Uses kind="zone" id={zone.name} />}
    </form>
  );
}
