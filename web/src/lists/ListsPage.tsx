import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { api, type Records } from "../api/client";
import { goTo, useAddress } from "../base/address";
import { useSettled } from "../base/useSettled";
import { VirtualList } from "../base/VirtualList";
import { useOpenRulebase } from "../session/contexts";
import { ChangeBar } from "../workspace/ChangeBar";
import { ListRow } from "../workspace/ListRow";
import { useWorkspace, useWorkspaceChange } from "../workspace/useWorkspace";
import { RecordEditor } from "./RecordEditor";

/** What is known of addresses and host names from outside, and the kinds of device: each kind of list in a tab. */
const KINDS: [string, string, string][] = [
  ["address list", "Address lists", "Addresses under one name, such as what a watch service sends."],
  ["country", "Countries", "Which addresses lie in which country; of nested networks the narrowest decides."],
  ["host", "Host names", "What each name resolves to now; a name server among the sources keeps it so."],
  ["site", "Sites", "Which web sites belong to which category; the longest name that fits decides."],
  ["device kind", "Devices", "The kinds of device that the gateways can tell apart."],
];

/** Lists of the workspace: looked through, changed by hand with their impact first. */
export function ListsPage() {
  const openRulebase = useOpenRulebase();
  const workspace = useWorkspace(openRulebase.who);
  const change = useWorkspaceChange(openRulebase.who);
  const address = useAddress();
  const [kind, , about] = KINDS.find(([one]) => one === address.what) ?? KINDS[0];
  const find = address.find ?? "";
  const version = workspace.data?.version;
  const asked = useSettled(find, 120) ?? "";
  const records = useQuery({
    queryKey: ["records", version, kind, asked],
    queryFn: () => api.records(kind, asked),
    enabled: version !== undefined,
    placeholderData: (before) => before,
  });
  const [open, setOpen] = useState<{ id: string; isNew: boolean }>();
  const show = (next: typeof open) => {
    change.forget();
    setOpen(next);
  };
  return (
    <>
      <div className="flex shrink-0 flex-wrap items-center gap-1 border-edge border-b bg-plate px-3 py-1">
        {KINDS.map(([one, label]) => (
          <button
            key={one}
            type="button"
            aria-pressed={one === kind}
            className={`press ${one === kind ? "press-main" : ""}`}
            onClick={() => {
              show(undefined);
              goTo({ what: one, find: undefined });
            }}
          >
            {label}
          </button>
        ))}
        <span className="ml-2 text-dim text-xs">{about}</span>
      </div>
      <div className="sides flex min-h-0 flex-1">
        <div className="side flex w-[430px] shrink-0 flex-col border-edge border-r bg-plate">
          <div className="flex gap-2 border-edge border-b p-2">
            <input
              aria-label="Find in the list"
              placeholder="a name or a value"
              value={find}
              onChange={(event) => goTo({ find: event.target.value || undefined })}
              className="min-w-0 flex-1 rounded border border-edge bg-ground/40 px-2 py-1 placeholder:text-faint"
            />
            <button type="button" className="press" onClick={() => show({ id: "", isNew: true })}>
              New {kind}
            </button>
          </div>
          {records.data && <Found records={records.data} kind={kind} open={open?.id} show={show} />}
        </div>
        {open && version !== undefined ? (
          <RecordEditor
            key={`${kind} ${open.id} ${open.isNew}`}
            kind={kind}
            id={open.id}
            isNew={open.isNew}
            total={records.data?.total ?? 0}
            version={version}
            change={change}
            close={() => show(undefined)}
          />
        ) : (
          <p className="min-w-0 flex-1 bg-paper p-6 text-dim">
            Choose a line to see all of it, and which rules use it.
          </p>
        )}
      </div>
      <ChangeBar workspace={workspace} change={change} />
    </>
  );
}

type FoundProps = {
  records: Records;
  kind: string;
  open?: string;
  show: (next: { id: string; isNew: boolean }) => void;
};

function Found({ records, kind, open, show }: FoundProps) {
  const { total, matching, shown } = records;
  const many = (count: number) => count.toLocaleString("en");
  return (
    <>
      <p className="border-edge border-b px-3 py-1 text-dim text-xs">
        {matching === total ? many(total) : `${many(matching)} of ${many(total)}`}
        {shown.length < matching && `, the first ${shown.length} shown`}
      </p>
      <VirtualList
        label="Found"
        items={shown}
        keyOf={(record) => record.id}
        height={43}
        nothing={
          <p className="p-3">{total === 0 ? `There is no ${kind} yet.` : "There is none like that."}</p>
        }
      >
        {(record) => (
          <ListRow
            isOpen={open === record.id}
            open={() => show({ id: record.id, isNew: false })}
            className="py-1"
          >
            <span className="flex justify-between gap-2">
              <b className="truncate">{record.id}</b>
              <span className="shrink-0 text-dim text-xs">
                {record.count > 1 && many(record.count)}
                {record.keptBy && ` from ${record.keptBy}`}
              </span>
            </span>
            <span className="block truncate text-dim text-xs">{record.values.join(", ")}</span>
          </ListRow>
        )}
      </VirtualList>
    </>
  );
}
