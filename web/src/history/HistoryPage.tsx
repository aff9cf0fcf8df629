import { useInfiniteQuery, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { api, type JournalEntry } from "../api/client";
import { goTo, useAddress } from "../base/address";
import { Fault } from "../base/Fault";
import { PendingAnswer } from "../base/PendingAnswer";
import { moment } from "../base/times";
import { ImpactText } from "../impact/ImpactText";
import { useEditing, useOpenRulebase } from "../session/contexts";
import { useSend } from "../session/useSend";
import { differences, type Hunk, hunks } from "./compare";
import { type PartChange, partChanges } from "./parts";

/** Every revision, and any two of them side by side: in order and in effect. */
export function HistoryPage() {
  const openRulebase = useOpenRulebase();
  const newest = openRulebase.rulebase?.revision ?? 0;
  const address = useAddress();
  const journal = useInfiniteQuery({
    queryKey: ["journal", openRulebase.id, "pages"],
    queryFn: ({ pageParam }) => api.journal(openRulebase.id, { before: pageParam }),
    initialPageParam: undefined as number | undefined,
    // The first edit is the one that made revision 1.
    getNextPageParam: (last) =>
      last.length > 0 && last[last.length - 1].revision > 1 ? last[last.length - 1].revision : undefined,
  });
  const edits = journal.data?.pages.flat() ?? [];
  const oldest = edits.at(-1)?.revision ?? 0;
  const events = useQuery({
    queryKey: ["events", openRulebase.id],
    queryFn: () => api.events(openRulebase.id),
  });
  const happened = [
    ...edits.map((entry) => ({ ...entry, key: `revision ${entry.revision}` })),
    // What happened beside edits that are not shown yet comes with them.
    ...(events.data ?? [])
      .filter(({ at }) => !journal.hasNextPage || at >= (edits.at(-1)?.at ?? ""))
      .map((event) => ({
        ...event,
        key: event.at + event.what,
        revision: undefined,
        reason: "",
      })),
  ].sort((a, b) => b.at.localeCompare(a.at));
  const older = address.from ? Number(address.from) : Math.max(0, newest - 1);
  const newer = address.to ? Number(address.to) : newest;
  // Both at once: what the other one was by itself would move with the next edit.
  const setFrom = (revision: number) => goTo({ from: String(revision), to: String(newer) });
  const setTo = (revision: number) => goTo({ from: String(older), to: String(revision) });
  if (!openRulebase.rulebase) return <p className="p-6 text-dim">Loading …</p>;
  return (
    <div className="sides flex min-h-0 flex-1">
      <section
        aria-label="Revisions"
        className="side w-[380px] shrink-0 overflow-y-auto border-edge border-r"
      >
        <p className="border-edge border-b px-3 py-2 text-dim text-xs">
          {newest === 0
            ? "Nothing has been changed yet. Every edit becomes a revision here, with who made it."
            : "Choose two revisions to compare: from one, to the other."}
        </p>
        <ol>
          {happened.map(({ key, revision, who, reason, what, at }) => {
            const when = moment(at);
            return revision === undefined ? (
              <Beside key={key} words={`${who} ${what}`} when={when} />
            ) : (
              <Revision
                key={key}
                number={revision}
                words={`${who} ${what}`}
                reason={reason}
                when={when}
                {...{ older, newer, setFrom, setTo }}
              />
            );
          })}
          {journal.hasNextPage && (
            <li className="border-edge border-b px-3 py-1.5">
              <button
                type="button"
                className="press text-xs"
                disabled={journal.isFetchingNextPage}
                onClick={() => journal.fetchNextPage()}
              >
                Older edits, {(oldest - 1).toLocaleString("en")} to 1
              </button>
            </li>
          )}
          <Revision
            number={0}
            words="as it was loaded"
            reason=""
            when=""
            {...{ older, newer, setFrom, setTo }}
          />
        </ol>
      </section>
      <Compared from={Math.min(older, newer)} to={Math.max(older, newer)} journal={edits} />
    </div>
  );
}

type RevisionProps = {
  number: number;
  words: string;
  reason: string;
  when: string;
  older: number;
  newer: number;
  setFrom: (revision: number) => void;
  setTo: (revision: number) => void;
};

function Revision({ number, words, reason, when, older, newer, setFrom, setTo }: RevisionProps) {
  const inside = number >= Math.min(older, newer) && number <= Math.max(older, newer);
  return (
    <li className={`flex items-start gap-2 border-edge border-b px-3 py-1.5 ${inside ? "bg-rust-wash" : ""}`}>
      <input
        type="radio"
        name="from"
        aria-label={`compare from revision ${number}`}
        checked={older === number}
        onChange={() => setFrom(number)}
        className="size-6 shrink-0 accent-rust"
      />
      <input
        type="radio"
        name="to"
        aria-label={`compare to revision ${number}`}
        checked={newer === number}
        onChange={() => setTo(number)}
        className="size-6 shrink-0 accent-rust"
      />
      <span className="w-8 pt-0.5 shrink-0 text-right text-dim tabular-nums">{number}</span>
      <span className="min-w-0">
        {words}
        {reason && <span className="block text-xs">Reason: {reason}</span>}
        <span className="block text-dim text-xs">{when}</span>
      </span>
    </li>
  );
}

/** What made no revision and yet can change what rules do, or what is said of them. */
function Beside({ words, when }: { words: string; when: string }) {
  return (
    <li className="border-edge border-b border-dashed py-1.5 pr-3 pl-[5.875rem] text-dim">
      {words}
      <span className="block text-xs">{when}</span>
    </li>
  );
}

type ComparedProps = { from: number; to: number; journal: JournalEntry[] };

function Compared({ from, to, journal }: ComparedProps) {
  const openRulebase = useOpenRulebase();
  const touched = new Set(
    journal
      .filter((entry) => entry.revision > from && entry.revision <= to)
      .flatMap((entry) => entry.touched)
      .flatMap((id) => (id.startsWith("rule:") ? [id.slice(5)] : [])),
  );
  const before = useQuery({
    queryKey: ["revision", openRulebase.id, from],
    queryFn: () => api.rulebaseAt(openRulebase.id, from),
  });
  const after = useQuery({
    queryKey: ["revision", openRulebase.id, to],
    queryFn: () => api.rulebaseAt(openRulebase.id, to),
  });
  const effect = useQuery({
    queryKey: ["between", openRulebase.id, from, to],
    queryFn: ({ signal }) => api.between(openRulebase.id, from, to, signal),
    enabled: from !== to,
  });
  if (from === to) {
    return (
      <p className="p-6 text-dim">
        {to === 0
          ? "Once there are two revisions, they stand side by side here: in order and in effect."
          : "One revision is chosen twice; choose another one."}
      </p>
    );
  }
  const error = before.error ?? after.error ?? effect.error;
  if (error) return <p className="p-6 text-madder">They cannot be compared: {error.message}</p>;
  const dropIt = (probe: string) => goTo({ page: "rulebase", probe });
  const changes = before.data && after.data ? hunks(before.data, after.data, touched) : undefined;
  const others = before.data && after.data ? partChanges(before.data, after.data) : undefined;
  return (
    <div className="flex min-w-0 flex-1 flex-col overflow-y-auto">
      <section aria-label="In effect" className="border-edge border-b bg-paper px-4 py-2">
        <h2 className="font-semibold">
          In effect: revision {from} → {to}
        </h2>
        {!effect.data && <PendingAnswer query={effect} what="what it did" />}
        {effect.data && (
          <ImpactText impact={effect.data} tense="is" named={openRulebase.named} drop={dropIt} />
        )}
      </section>
      <Restore key={from} old={from} />
      {others && others.length > 0 && <Besides changes={others} />}
      <section aria-label="In order" className="px-4 py-2">
        <h2 className="font-semibold">In order</h2>
        {changes?.length === 0 && <p className="text-dim">No rule came, went, moved or was changed.</p>}
        {changes?.map((hunk) => (
          <Lines key={hunk.key} hunk={hunk} />
        ))}
      </section>
    </div>
  );
}

/** The way back to an older revision: what it would change from now on is read first. */
function Restore({ old }: { old: number }) {
  const openRulebase = useOpenRulebase();
  const edits = useEditing();
  const [asked, setAsked] = useState(false);
  const { fault, attempt } = useSend();
  const newest = openRulebase.rulebase?.revision ?? 0;
  const impact = useQuery({
    queryKey: ["between", openRulebase.id, newest, old],
    queryFn: ({ signal }) => api.between(openRulebase.id, newest, old, signal),
    enabled: asked && newest !== old,
  });
  if (old === newest) return null;
  if (!asked)
    return (
      <p className="border-edge border-b px-4 py-2">
        <button type="button" className="press text-xs" onClick={() => setAsked(true)}>
          Make revision {old} current …
        </button>
      </p>
    );
  return (
    <section aria-label={`Make revision ${old} current`} className="border-edge border-b px-4 py-2">
      <h2 className="font-semibold">If revision {old} were current again</h2>
      {!impact.data && !impact.error && <p className="text-dim">Working it out …</p>}
      {impact.error && <p className="text-madder">{impact.error.message}</p>}
      {impact.data && (
        <ImpactText
          impact={impact.data}
          tense="would be"
          named={openRulebase.named}
          drop={(probe) => goTo({ page: "rulebase", probe })}
        />
      )}
      <Fault fault={fault} />
      <p className="mt-1 flex gap-1.5">
        <button
          type="button"
          className="press press-main text-xs"
          disabled={!impact.data}
          onClick={() => attempt(edits.restore(old)).then((kept) => kept && setAsked(false))}
        >
          Make it current
        </button>
        <button type="button" className="press text-xs" onClick={() => setAsked(false)}>
          Cancel
        </button>
      </p>
    </section>
  );
}

/** What is said differently besides the rules. */
function Besides({ changes }: { changes: PartChange[] }) {
  return (
    <section aria-label="Besides the rules" className="border-edge border-b px-4 py-2">
      <h2 className="font-semibold">Besides the rules</h2>
      <ul className="text-xs">
        {changes.map(({ what, kind, gone, come }) => (
          <li key={what} className="mt-1">
            <span aria-hidden="true" className="font-semibold text-rust">
              {MARK[kind]}
            </span>{" "}
            <b>{what}</b> <span className="text-dim">{WORD[kind]}</span>
            {gone.map((line) => (
              <del key={line} className="block pl-4 text-dim">
                {line}
              </del>
            ))}
            {come.map((line) => (
              <ins key={line} className="block pl-4 no-underline">
                {line}
              </ins>
            ))}
          </li>
        ))}
      </ul>
    </section>
  );
}

const MARK = { same: "", gone: "−", come: "+", changed: "≠" };
const WORD = { same: "", gone: "only before", come: "only after", changed: "changed" };

function Lines({ hunk }: { hunk: Hunk }) {
  return (
    <table className="mt-2 w-full table-fixed border-collapse text-xs">
      <thead className="sr-only">
        <tr>
          <th>before</th>
          <th>after</th>
        </tr>
      </thead>
      <tbody>
        {hunk.lines.map((line) => (
          <tr
            key={`${line.kind} ${line.before?.id} ${line.after?.id}`}
            className={line.kind === "same" ? "text-dim" : "bg-rust-wash"}
          >
            {[line.before, line.after].map((rule, side) => (
              <td key={side === 0 ? "before" : "after"} className="border border-edge px-2 py-1 align-top">
                {rule && (
                  <>
                    <span className="text-dim tabular-nums">{rule.number}</span>{" "}
                    <span aria-hidden="true" className="font-semibold text-rust">
                      {MARK[line.kind]}
                    </span>
                    <span className="sr-only">{WORD[line.kind]}</span> <b>{rule.name || "unnamed rule"}</b>
                    {rule.state === "off" && " (off)"}
                    {line.kind !== "same" && <span className="block">{rule.sentence}</span>}
                    {line.before &&
                      line.after &&
                      differences(rule, side === 0 ? line.after : line.before).map((words) => (
                        <span key={words} className="block font-medium">
                          {words}
                        </span>
                      ))}
                  </>
                )}
              </td>
            ))}
          </tr>
        ))}
      </tbody>
    </table>
  );
}
