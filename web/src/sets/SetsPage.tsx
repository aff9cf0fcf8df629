import { useQuery } from "@tanstack/react-query";
import { useMemo, useState } from "react";
import { api, type NamedSet, type SharedSet, type Step } from "../api/client";
import { goTo, useAddress } from "../base/address";
import { Fault } from "../base/Fault";
import { grouped } from "../base/grouped";
import { type Notes, Noteworthy } from "../base/Noteworthy";
import { VirtualList } from "../base/VirtualList";
import { ValueEditor } from "../editor/ValueEditor";
import { ImpactPreview } from "../impact/ImpactPreview";
import { ImpactStrip } from "../impact/ImpactStrip";
import { SET_KINDS } from "../rules/fields";
import { rules } from "../rules/order";
import { useOpenRulebase } from "../session/contexts";
import { useImpactPreview } from "../session/useImpactPreview";
import { useSend } from "../session/useSend";
import { ChangeBar } from "../workspace/ChangeBar";
import { ListRow } from "../workspace/ListRow";
import { useWorkspace, useWorkspaceChange } from "../workspace/useWorkspace";
import { SharedSetEditor } from "./SharedSetEditor";

const BLANK_SHARED: SharedSet = { kind: "network", name: "", values: [], note: "" };

type Row = { of: "own"; set: NamedSet } | { of: "all"; set: SharedSet } | { of: "heading" };

const BLANK: NamedSet = { kind: "network", name: "", values: [], note: "", usedBy: [] };

/** The named sets: what each holds, and which rules and sets would notice a change. */
export function SetsPage() {
  const openRulebase = useOpenRulebase();
  const address = useAddress();
  const find = address.find ?? "";
  const [making, setMaking] = useState(false);
  const sets = openRulebase.rulebase?.sets ?? [];
  const wanted = find.toLowerCase();
  const [picked, setPicked] = useState<string>();
  const workspace = useWorkspace(openRulebase.who);
  const change = useWorkspaceChange(openRulebase.who);
  const version = workspace.data?.version;
  const shared = useQuery({
    queryKey: ["shared sets", version],
    queryFn: api.sharedSets,
    enabled: version !== undefined,
    placeholderData: (before) => before,
  });
  // Every rulebase is read for this, so the page does not wait for it.
  const unused = useQuery({
    queryKey: ["unused sets", version, openRulebase.rulebase?.revision],
    queryFn: api.unusedSets,
    enabled: version !== undefined,
    placeholderData: (before) => before,
  });
  const told: Shared | undefined = shared.data && { ...shared.data, unused: unused.data ?? [] };
  /** The key of an open set that all gateways share; "new" for one that is being made. */
  const [sharedKey, setSharedKey] = useState<string>();
  const fits = ({ name, note, values }: { name: string; note: string; values: string[] }) =>
    [name, note, ...values].some((text) => text.toLowerCase().includes(wanted));
  const allShared = shared.data?.sets ?? [];
  const ofAll = allShared.filter(fits);
  const openShared =
    sharedKey === "new" ? BLANK_SHARED : allShared.find((set) => set.kind + set.name === sharedKey);
  const shown = sets.filter(fits);
  /** Its own sets, then those of all gateways below their heading. */
  const rows: Row[] = [
    ...shown.map((set): Row => ({ of: "own", set })),
    { of: "heading" },
    ...ofAll.map((set): Row => ({ of: "all", set })),
  ];
  const chosen =
    shown.find((set) => set.name.toLowerCase() === wanted) ?? (shown.length === 1 ? shown[0] : undefined);
  const open = making ? BLANK : (sets.find((set) => set.kind + set.name === picked) ?? chosen);
  return (
    <>
      <div className="sides flex min-h-0 flex-1">
        <div className="side flex w-[400px] shrink-0 flex-col border-edge border-r bg-plate">
          <div className="flex gap-2 border-edge border-b p-2">
            <input
              aria-label="Find a set"
              placeholder="find by name, content or note"
              value={find}
              onChange={(event) => {
                setPicked(undefined);
                goTo({ find: event.target.value || undefined });
              }}
              className="min-w-0 flex-1 rounded border border-edge bg-ground/40 px-2 py-1 placeholder:text-faint"
            />
            <button
              type="button"
              className="press press-main"
              onClick={() => {
                setSharedKey(undefined);
                setMaking(true);
              }}
            >
              New set
            </button>
          </div>
          <VirtualList
            label="Sets"
            items={rows}
            keyOf={(row) => (row.of === "heading" ? "shared" : `${row.of} ${row.set.kind}${row.set.name}`)}
            height={48}
          >
            {(row) =>
              row.of === "heading" ? (
                <>
                  {shown.length === 0 && ofAll.length === 0 && (
                    <p className="p-3 text-dim">No set has “{find}” in its name, content or note.</p>
                  )}
                  <div className="flex items-center border-edge border-b bg-ground px-3 py-1">
                    <span className="font-semibold text-dim text-xs">
                      Shared by all gateways · {ofAll.length}
                    </span>
                    <button
                      type="button"
                      className="press ml-auto text-xs"
                      onClick={() => {
                        setMaking(false);
                        setSharedKey("new");
                      }}
                    >
                      New shared set
                    </button>
                  </div>
                </>
              ) : (
                <ListRow
                  isOpen={row.of === "all" ? openShared === row.set : open === row.set && !openShared}
                  open={() => {
                    const key = row.set.kind + row.set.name;
                    setMaking(false);
                    setSharedKey(row.of === "all" ? key : undefined);
                    if (row.of === "own") setPicked(key);
                  }}
                >
                  <span className="flex justify-between gap-2">
                    <b>{row.set.name}</b>
                    <span className="text-dim text-xs">
                      {[row.set.kind, ...(row.of === "all" ? marks(row.set, told) : [used(row.set)])].join(
                        " · ",
                      )}
                    </span>
                  </span>
                  <span className="block truncate text-dim text-xs">{row.set.values.join(", ")}</span>
                </ListRow>
              )
            }
          </VirtualList>
        </div>
        {openShared && shared.data && (
          <SharedSetEditor
            key={sharedKey}
            rulebase={openRulebase.id}
            set={openShared}
            isNew={sharedKey === "new"}
            version={shared.data.version}
            others={allShared
              .filter((set) => set.kind === openShared.kind && set.name !== openShared.name)
              .map((set) => set.name)}
            relations={said(openShared, told)}
            change={change}
            done={() => setSharedKey(undefined)}
          />
        )}
        {openShared ? null : open ? (
          <SetEditor
            key={making ? "new" : open.kind + open.name}
            set={open}
            isNew={making}
            done={() => setMaking(false)}
          />
        ) : (
          <Noteworthy
            label="Worth a look among the sets"
            nothing="Every set is used, and no two hold the same."
            hint="Choose a set to see what it holds and who uses it, or make a new one."
            sections={worth(sets, told, (of, set) => {
              const key = set.kind + set.name;
              setSharedKey(of === "all" ? key : undefined);
              if (of === "own") setPicked(key);
            })}
          />
        )}
      </div>
      {(change.fault || change.said) && <ChangeBar workspace={workspace} change={change} />}
    </>
  );
}

function SetEditor({ set, isNew, done }: { set: NamedSet; isNew: boolean; done: () => void }) {
  const openRulebase = useOpenRulebase();
  const [name, setName] = useState(set.name);
  const [kind, setKind] = useState(set.kind);
  const [note, setNote] = useState(set.note);
  const [values, setValues] = useState(set.values);
  const { fault, send: sendAll } = useSend();
  const numbers = useMemo(
    () => new Map(openRulebase.rulebase && rules(openRulebase.rulebase).map((rule) => [rule.id, rule])),
    [openRulebase.rulebase],
  );
  const send = (what: string, step: Step) => sendAll(what, [step]).then((kept) => kept && done());
  const preview = useImpactPreview();
  const removing: Step = {
    op: "REMOVE_SET",
    kind,
    name: set.name,
  };
  const saving: Step = {
    op: "SAVE_SET",
    set: { kind, name: name.trim(), values, note },
    oldName: isNew ? undefined : set.name,
  };
  const keep = () => send(`${isNew ? "made" : "changed"} set ${name}`, saving);
  const decidesOtherwise = !isNew && values.join("\n") !== set.values.join("\n");
  return (
    <div className="flex min-w-0 flex-1 flex-col gap-2 overflow-auto bg-paper p-4">
      <div className="flex gap-2">
        <input
          aria-label="Name of the set"
          placeholder="name of the set"
          value={name}
          onChange={(event) => setName(event.target.value)}
          className="w-80 rounded border border-paper-edge bg-ground/40 px-2 py-1 font-semibold"
        />
        {isNew ? (
          <select
            aria-label="What it holds"
            value={kind}
            onChange={(event) => setKind(event.target.value)}
            className="rounded border border-paper-edge bg-paper px-1"
          >
            {SET_KINDS.map((word) => (
              <option key={word}>{word}</option>
            ))}
          </select>
        ) : (
          <span className="self-center text-dim">{set.kind} set</span>
        )}
      </div>
      <input
        aria-label="Note on the set"
        placeholder="what it is for"
        value={note}
        onChange={(event) => setNote(event.target.value)}
        className="rounded border border-paper-edge bg-ground/40 px-2 py-1"
      />
      <div className="flex h-[340px] flex-col">
        <ValueEditor
          key={kind}
          rulebase={openRulebase.rulebase?.id ?? ""}
          kind={kind}
          label={kind}
          field={{ sense: "is", values }}
          canNegate={false}
          focused={false}
          onChange={(field) => setValues(field.values)}
        />
      </div>
      {decidesOtherwise && (
        <ImpactStrip
          rulebase={openRulebase.id}
          revision={openRulebase.rulebase?.revision ?? 0}
          steps={[saving]}
          named={openRulebase.named}
          drop={(probe) => goTo({ page: "rulebase", probe, find: undefined })}
        />
      )}
      <Fault fault={fault} />
      <div className="flex items-center gap-2">
        <button type="button" className="press press-main" onClick={keep} disabled={!name.trim()}>
          Save
        </button>
        {!isNew && (
          <button
            type="button"
            className="press"
            onClick={() => send(`removed set ${set.name}`, removing)}
            {...preview.on("Remove", () => [removing])}
          >
            Remove
          </button>
        )}
        {preview.meant && <ImpactPreview {...preview.meant} />}
      </div>
      {!isNew && (
        <section>
          <h2 className="font-semibold text-dim text-xs">Who uses it</h2>
          {set.usedBy.length === 0 && <p className="text-dim">No rule and no set.</p>}
          {set.usedBy.map((user) => {
            const rule = numbers.get(user);
            return (
              <p key={user}>
                {rule ? (
                  <button
                    type="button"
                    className="underline decoration-edge"
                    onClick={() => goTo({ page: "rulebase", rule: user, find: undefined })}
                  >
                    rule {rule.number} {rule.name}
                  </button>
                ) : (
                  user
                )}
              </p>
            );
          })}
        </section>
      )}
    </div>
  );
}

type Shared = Awaited<ReturnType<typeof api.sharedSets>> & { unused: string[] };

/** What is said of a shared set beside the others: that it holds the same, lies inside one, or is unused. */
export function said(set: SharedSet, all: Shared | undefined): string[] {
  const lines: string[] = [];
  for (const { kind, one, other, same } of all?.relations ?? []) {
    if (kind !== set.kind) continue;
    const [inner, outer] = [one === set.name, other === set.name];
    if (same && (inner || outer)) lines.push(`It holds the same as ${inner ? other : one}.`);
    else if (inner) lines.push(`All of it lies in ${other}.`);
    else if (outer) lines.push(`${one} lies wholly in it.`);
  }
  if (all?.unused.includes(`${set.kind}:${set.name}`)) lines.push("No rule and no set names it.");
  return lines;
}

type AnySet = { kind: string; name: string; values: string[] };

/** What is worth a look: sets nothing uses, sets with the same content, sets inside another, and those used most. */
export function worth(
  own: NamedSet[],
  all: Shared | undefined,
  open: (of: "own" | "all", set: AnySet) => void,
): Notes[] {
  const shared = all?.sets ?? [];
  const both = [
    ...own.map((set) => ({ of: "own" as const, set: set as AnySet })),
    ...shared.map((set) => ({ of: "all" as const, set: set as AnySet })),
  ];
  const note = ({ of, set }: (typeof both)[number], detail: string) => ({
    key: of + set.kind + set.name,
    name: set.name,
    detail,
    open: () => open(of, set),
  });
  const unused = both.filter(({ of, set }) =>
    of === "own"
      ? own.some((one) => one === set && one.usedBy.length === 0)
      : all?.unused.includes(`${set.kind}:${set.name}`),
  );
  const content = ({ set }: (typeof both)[number]) =>
    `${set.kind}\n${[...new Set(set.values)].sort().join("\n")}`;
  const alike = grouped(both, content);
  const told = new Set(all?.relations.filter(({ same }) => same).flatMap(({ one, other }) => [one, other]));
  return [
    {
      title: "Used by no rule and no set",
      notes: unused.map((one) => note(one, [one.set.kind, ...one.set.values].join(", "))),
    },
    {
      title: "Hold the same",
      why: "Of two that hold the same, one will be changed and the other forgotten.",
      notes: [
        ...alike
          .map(([, same]) => same)
          .filter(
            (same) => same.length > 1 && !same.every(({ of, set }) => of === "all" && told.has(set.name)),
          )
          .map(([first, ...others]) =>
            note(first, `holds the same as ${others.map((o) => o.set.name).join(", ")}`),
          ),
        ...(all?.relations ?? [])
          .filter(({ same }) => same)
          .flatMap(({ kind, one, other }) =>
            both
              .filter(({ of, set }) => of === "all" && set.kind === kind && set.name === one)
              .map((found) => note(found, `holds the same as ${other}`)),
          ),
      ],
    },
    {
      title: "Lie wholly in another",
      notes: (all?.relations ?? [])
        .filter(({ same }) => !same)
        .flatMap(({ kind, one, other }) =>
          both
            .filter(({ of, set }) => of === "all" && set.kind === kind && set.name === one)
            .map((found) => ({ ...note(found, `lies wholly in ${other}`), key: `${one} in ${other}` })),
        ),
    },
    {
      title: "Used most",
      notes: [...own]
        .filter(({ usedBy }) => usedBy.length > 0)
        .sort((a, b) => b.usedBy.length - a.usedBy.length)
        .slice(0, 6)
        .map((set) => note({ of: "own", set }, `used ${set.usedBy.length}× · ${set.values.join(", ")}`)),
    },
  ];
}

/** The same in a word or two, for the list. */
const used = ({ usedBy }: NamedSet) => (usedBy.length === 0 ? "unused" : `used ${usedBy.length}×`);

function marks(set: SharedSet, all: Shared | undefined): string[] {
  const twin = all?.relations.find(
    ({ kind, one, other, same }) => same && kind === set.kind && (one === set.name || other === set.name),
  );
  return [
    ...(twin ? [`same as ${twin.one === set.name ? twin.other : twin.one}`] : []),
    ...(all?.unused.includes(`${set.kind}:${set.name}`) ? ["unused"] : []),
  ];
}
