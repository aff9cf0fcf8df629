import { useQuery } from "@tanstack/react-query";
import { useId, useState } from "react";
import { ApiError, api, type Catalogue, type Reach, type ReachCell } from "../api/client";
import { goTo, useAddress } from "../base/address";
import { PendingAnswer } from "../base/PendingAnswer";
import { Term } from "../base/Term";
import { useStored } from "../base/useStored";
import { percent } from "../rules/order";
import { Plate } from "../rules/Plate";
import { useOpenRulebase } from "../session/contexts";
import { AllZones } from "./AllZones";
import { Figure, Hole, isEmpty, stopped, told } from "./Hole";
import { useBetween } from "./useBetween";
import { ZoneChoice } from "./ZoneChoice";

const STANDINGS = ["allowed", "depends", "blocked"];

/**
 * Who can use what: a map of groups by categories, everything one person can use, everything that touches one
 * application, or one of them with the other.
 */
export function ReachPage() {
  const openRulebase = useOpenRulebase();
  const address = useAddress();
  const [who, what] = [address.who ?? "", address.what ?? ""];
  const ends = useBetween();
  const catalogue = useQuery({ queryKey: ["catalogue"], queryFn: api.catalogue, staleTime: 60_000 });
  const between = { from: ends.from ? [ends.from] : [], to: ends.to ? [ends.to] : [] };
  const setWhat = (next: string) => goTo({ what: next || undefined });
  return (
    <div className="flex min-h-0 flex-1 flex-col">
      <div className="flex flex-wrap items-center gap-4 border-edge border-b bg-plate px-3 py-2">
        <Asking kind="person" label="Who" value={who} set={(next) => goTo({ who: next || undefined })} />
        <Asking kind="application" label="uses what" value={what} set={setWhat} />
        <ZoneChoice rulebase={openRulebase.id} label="from" value={ends.from} set={ends.setFrom} />
        <ZoneChoice rulebase={openRulebase.id} label="to" value={ends.to} set={ends.setTo} />
        <span className="text-dim text-xs">each application on its usual ports</span>
      </div>
      <div className="min-h-0 flex-1 overflow-auto p-3">
        {who && !ends.from && !ends.to ? (
          <AllZones who={who} what={what} />
        ) : who ? (
          <OnePerson who={who} what={what} between={between} catalogue={catalogue.data} choose={setWhat} />
        ) : what ? (
          <OneApplication what={what} between={between} />
        ) : (
          <Matrix
            between={between}
            catalogue={catalogue.data}
            choose={(person, application) => goTo({ who: person, what: application })}
          />
        )}
      </div>
    </div>
  );
}

type AskingProps = {
  kind: string;
  label: string;
  value: string;
  set: (value: string) => void;
};

/** A field that takes what a rule's field takes, with the same completion. */
function Asking({ kind, label, value, set }: AskingProps) {
  const openRulebase = useOpenRulebase();
  const [text, setText] = useState(value);
  const list = useId();
  const [shown, setShown] = useState(value);
  if (shown !== value) {
    setShown(value);
    setText(value);
  }
  const choices = useQuery({
    queryKey: ["choices", openRulebase.id, kind, text],
    queryFn: () => api.choices(openRulebase.id, kind, text),
    placeholderData: (before) => before,
  });
  return (
    <form
      className="flex items-center gap-1.5"
      onSubmit={(event) => {
        event.preventDefault();
        set(text.trim());
      }}
    >
      <label htmlFor={`${list}-input`} className="text-dim">
        {label}
      </label>
      <input
        id={`${list}-input`}
        list={list}
        value={text}
        placeholder={kind === "person" ? "everybody" : "anything"}
        onChange={(event) => {
          setText(event.target.value);
          if (!event.target.value || choices.data?.some((choice) => choice.value === event.target.value))
            set(event.target.value);
        }}
        className="w-56 rounded border border-edge bg-ground/40 px-2 py-1 placeholder:text-faint"
      />
      <datalist id={list}>
        {(choices.data ?? []).slice(0, 30).map((choice) => (
          <option key={choice.value} value={choice.value}>
            {choice.detail}
          </option>
        ))}
      </datalist>
    </form>
  );
}

type Between = { from: string[]; to: string[] };
type MatrixProps = {
  between: Between;
  catalogue?: Catalogue;
  choose: (who: string, what: string) => void;
};

function Matrix({ between, catalogue, choose }: MatrixProps) {
  const openRulebase = useOpenRulebase();
  const people = useQuery({
    queryKey: ["choices", openRulebase.id, "person", "group"],
    queryFn: () => api.choices(openRulebase.id, "person", "group "),
  });
  const [folded, setFolded] = useStored("reach", "folded");
  const groups = (people.data ?? [])
    .filter((choice) => choice.kind === "group")
    .map((choice) => choice.value);
  const rows = [...groups, "unidentified"];
  const columns = [...new Set((catalogue?.applications ?? []).map((a) => `category ${a.category}`))];
  const reach = useQuery({
    queryKey: ["reach", openRulebase.id, openRulebase.state, catalogue?.edition, rows, columns, between],
    queryFn: () => api.reach(openRulebase.id, rows, columns, between.from, between.to),
    enabled: people.isSuccess && columns.length > 0,
    placeholderData: (before) => before,
  });
  if (reach.error instanceof ApiError) return <p className="text-madder">{reach.error.problem.detail}</p>;
  if (catalogue && columns.length === 0)
    return <p className="text-dim">The catalogue has no application yet, so there is nothing to reach.</p>;
  if (!reach.data) return <PendingAnswer query={people.error ? people : reach} what="who reaches what" />;
  const { applications } = reach.data;
  const shown = alike(reach.data, folded === "folded");
  const usual = folded === "folded" ? applications.map((_, c) => commonest(shown, c)) : [];
  return (
    <>
      <table className="border-collapse" aria-label="Reach of groups by categories">
        <thead>
          <tr>
            <th className="w-52 text-left align-bottom font-normal">
              <label className="flex items-center gap-1.5 pb-1 text-dim text-xs">
                <input
                  type="checkbox"
                  checked={folded === "folded"}
                  onChange={(event) => setFolded(event.target.checked ? "folded" : "each")}
                />
                <span>
                  who reaches the same, together; paler what most have
                  <span className="figure">; figures: per cent stopped</span>
                </span>
              </label>
            </th>
            {applications.map((column) => (
              <th key={column} className="h-36 w-7 align-bottom font-normal text-xs">
                <span className="inline-block whitespace-nowrap [writing-mode:vertical-rl] [transform:rotate(180deg)]">
                  {column.replace("category ", "")}
                </span>
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {shown.map(({ people, cells }) => (
            <tr key={people[0]} className="border-edge border-t">
              <th className="max-w-64 py-1 pr-3 text-left font-normal" title={people.map(plainly).join(", ")}>
                {people.slice(0, 2).map(plainly).join(", ")}
                {people.length > 2 && <span className="text-dim"> and {people.length - 2} more</span>}
              </th>
              {cells.map((cell, c) => (
                <td key={applications[c]} className="p-0 text-center">
                  <button
                    type="button"
                    className="group px-1 py-0.5 hover:bg-rust-wash"
                    title={told(cell)}
                    onClick={() => choose(people[0], applications[c])}
                  >
                    {isEmpty(cell) ? (
                      <span className="text-dim">–</span>
                    ) : (
                      <>
                        <span
                          className={
                            says(cell) === usual[c] ? "opacity-40 group-hover:opacity-100" : undefined
                          }
                        >
                          <Hole standing={cell.standing} stopped={stopped(cell)} />
                        </span>
                        <Figure cell={cell} />
                      </>
                    )}
                  </button>
                </td>
              ))}
            </tr>
          ))}
        </tbody>
      </table>
      <p className="mt-3 text-dim text-xs">
        An open hole is let through, a filled one stopped; where it depends, it is filled as far as it is
        stopped.
        {shown.some(({ cells }) => cells.some(isEmpty)) && " – stands where nobody is in the group."} Open one
        to see who uses what there, and by which rule.
      </p>
    </>
  );
}

const plainly = (person: string) => person.replace("group ", "");

/** What a cell says to somebody who looks at it. */
const says = (cell: ReachCell) =>
  cell.standing === "depends" ? `${told(cell)} ${percent(stopped(cell))}` : told(cell);

/** What the cells of a column say for most groups; nothing if no two rows agree. */
function commonest(rows: Row[], column: number): string | undefined {
  const counts = new Map<string, number>();
  for (const { cells, people } of rows) {
    const said = says(cells[column]);
    counts.set(said, (counts.get(said) ?? 0) + people.length);
  }
  const [said, count] = [...counts].reduce((most, one) => (one[1] > most[1] ? one : most));
  return count > 1 ? said : undefined;
}

type Row = { people: string[]; cells: ReachCell[] };

/** The rows of the map; where asked for, those that read alike in every column are one. */
function alike(reach: Reach, together: boolean): Row[] {
  const rows = new Map<string, Row>();
  reach.people.forEach((person, r) => {
    const cells = reach.rows[r];
    const same = together ? cells.map(says).join("|") : person;
    const row = rows.get(same) ?? { people: [], cells };
    row.people.push(person);
    rows.set(same, row);
  });
  return [...rows.values()];
}

/** The applications of a category, one by one: the next level of the map. */
function Inside({ who, what, between, catalogue, choose }: OnePersonProps) {
  const openRulebase = useOpenRulebase();
  const inside = (catalogue?.applications ?? [])
    .filter((application) => what === `category ${application.category}`)
    .map((application) => application.name);
  const reach = useQuery({
    queryKey: ["reach", openRulebase.id, openRulebase.state, "inside", who, inside, between],
    queryFn: () => api.reach(openRulebase.id, [who], inside, between.from, between.to),
    enabled: inside.length > 0,
  });
  if (!reach.data) return null;
  return (
    <section aria-label="One by one" className="mt-3">
      <h3 className="mb-1 font-semibold text-dim text-xs">One by one</h3>
      <ul className="grid grid-cols-[repeat(auto-fill,minmax(200px,1fr))] gap-1">
        {reach.data.applications.map((application, i) => (
          <li key={application}>
            <button
              type="button"
              className="flex w-full items-center gap-1.5 rounded border border-edge bg-plate px-2 py-0.5 text-left"
              title={told(reach.data.rows[0][i])}
              onClick={() => choose(application)}
            >
              <Hole standing={reach.data.rows[0][i].standing} stopped={stopped(reach.data.rows[0][i])} />
              <Figure cell={reach.data.rows[0][i]} />
              {application}
            </button>
          </li>
        ))}
      </ul>
    </section>
  );
}

type OnePersonProps = {
  who: string;
  what: string;
  between: Between;
  catalogue?: Catalogue;
  choose: (what: string) => void;
};

function OnePerson({ who, what, between, catalogue, choose }: OnePersonProps) {
  const openRulebase = useOpenRulebase();
  const asked = what ? [what] : [];
  const reach = useQuery({
    queryKey: ["reach", openRulebase.id, openRulebase.state, catalogue?.edition, who, what, between],
    queryFn: () => api.reach(openRulebase.id, [who], asked, between.from, between.to),
    placeholderData: (before) => before,
    retry: false,
  });
  if (reach.error instanceof ApiError) return <p className="text-madder">{reach.error.problem.detail}</p>;
  if (!reach.data) return <PendingAnswer query={reach} what={`what ${who} can use`} />;
  const cells = reach.data.applications.map((application, index) => ({
    application,
    cell: reach.data.rows[0][index],
  }));
  if (what && cells.length === 1)
    return (
      <>
        <CellDetail title={`${who}, using ${what}`} cell={cells[0].cell} />
        <Inside {...{ who, what, between, catalogue, choose }} />
      </>
    );
  return (
    <>
      <h2 className="mb-2 font-semibold">
        <Term word="reach">What {who} can use</Term>
      </h2>
      {STANDINGS.map((standing) => {
        const fitting = cells.filter(({ cell }) => cell.standing === standing);
        return (
          <section key={standing} aria-label={standing} className="mb-3">
            <h3 className="mb-1 flex items-center gap-1.5 font-semibold text-dim text-xs">
              <Hole standing={standing} /> {standing}: {fitting.length}
            </h3>
            <ul className="grid grid-cols-[repeat(auto-fill,minmax(230px,1fr))] gap-1">
              {fitting.map(({ application, cell }) => (
                <li key={application}>
                  <button
                    type="button"
                    className="w-full rounded border border-edge bg-plate px-2 py-0.5 text-left"
                    onClick={() => choose(application)}
                  >
                    <b className="font-medium">{application}</b>
                    <span className="block truncate text-dim text-xs">
                      {cell.standing === "depends"
                        ? told(cell)
                        : `by ${openRulebase.named(cell.deciders[0]?.rule ?? "")}`}
                    </span>
                  </button>
                </li>
              ))}
            </ul>
          </section>
        );
      })}
    </>
  );
}

function OneApplication({ what, between }: { what: string; between: Between }) {
  const openRulebase = useOpenRulebase();
  const reach = useQuery({
    queryKey: ["reach", openRulebase.id, openRulebase.state, what, between],
    queryFn: () => api.reach(openRulebase.id, [], [what], between.from, between.to),
    retry: false,
  });
  if (reach.error instanceof ApiError) return <p className="text-madder">{reach.error.problem.detail}</p>;
  if (!reach.data) return <PendingAnswer query={reach} what={`what touches ${what}`} />;
  return <CellDetail title={`Everything that decides about ${what}`} cell={reach.data.rows[0][0]} />;
}

function CellDetail({ title, cell }: { title: string; cell: ReachCell }) {
  const openRulebase = useOpenRulebase();
  return (
    <section aria-label={title} className="max-w-[860px]">
      <h2 className="mb-1 flex items-center gap-2 font-semibold">
        <Hole standing={cell.standing} /> {title}: {cell.standing}
      </h2>
      {cell.dependsOn.length > 0 && <p className="mb-2">It depends on {cell.dependsOn.join(", ")}.</p>}
      {!cell.complete && <p className="mb-2 text-madder">Not all of it was looked at: it is too much.</p>}
      {cell.deciders.map((decider) => (
        <div
          key={decider.rule + decider.outcome}
          className="mb-1 flex items-center gap-3 rounded border border-edge bg-plate px-2 py-1"
        >
          <span className="w-20 shrink-0">
            <Plate verdict={decider.verdict} />
          </span>
          <span className="w-14 shrink-0 text-right tabular-nums">{percent(decider.share)} %</span>
          <span className="min-w-0 flex-1">
            <button
              type="button"
              className="text-left underline decoration-edge"
              onClick={() => goTo({ page: "rulebase", rule: decider.rule || undefined, find: undefined })}
            >
              by {openRulebase.named(decider.rule)}
            </button>
            {decider.outcome !== decider.verdict && <span className="text-dim"> {decider.outcome}</span>}
            <span className="block truncate text-dim text-xs">{decider.probe}</span>
          </span>
          <button
            type="button"
            className="press text-xs"
            onClick={() => goTo({ page: "rulebase", rule: undefined, find: undefined, probe: decider.probe })}
          >
            Try it
          </button>
        </div>
      ))}
    </section>
  );
}
