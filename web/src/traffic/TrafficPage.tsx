import { useState } from "react";
import { api, type Count, type Hits, type TapeView } from "../api/client";
import { goTo } from "../app/address";
import { Fault } from "../app/Fault";
import { useKept } from "../app/kept";
import { LoadFile } from "../app/LoadFile";
import { useSend } from "../app/useSend";
import { Caught } from "../lens/Caught";
import type { Session } from "../session/useSession";
import { few, rules } from "../stack/order";
import { Plate } from "../stack/Plate";

const ORDERS: [string, string][] = [
  ["rules", "in the order of the rules"],
  ["hits", "most hits first"],
  ["last", "longest without a hit first"],
];

/** A row of the picture: a rule, or the default verdict, with what fell on it. */
type Row = { id?: string; number?: number; name: string; verdict: string; count?: Count };

/** Recorded traffic: the tapes, and where all of it falls in the rulebase as it is now. */
export function TrafficPage({ session }: { session: Session }) {
  const [order, setOrder] = useKept("traffic order", "hits");
  const [open, setOpen] = useState<string>();
  const { hits, rulebase } = session;
  if (!rulebase || !hits) return <p className="p-6 text-dim">Running the tapes …</p>;
  const all = rows(session, hits);
  const unused = all.filter((row) => row.id && !row.count).length;
  const shown = sorted(all, order);
  const most = Math.max(1, ...all.map((row) => row.count?.times ?? 0));
  return (
    <div className="sides flex min-h-0 flex-1">
      <div className="flex min-h-0 min-w-0 flex-1 flex-col">
        <div className="flex items-center gap-3 border-edge border-b bg-plate px-3 py-2">
          {hits.days > 0 ? (
            <p>
              <b>{hits.times.toLocaleString("en")}</b> connections in {hits.days} days, run through revision{" "}
              {hits.revision}. <b>{unused}</b> of {all.length - 1} rules caught none of them.
              {hits.impossible > 0 && (
                <span className="text-rust">
                  {" "}
                  {hits.impossible.toLocaleString("en")} cannot be run: they name somebody or something there
                  no longer is, or their addresses lie behind other zones now.
                </span>
              )}
            </p>
          ) : (
            <p className="text-dim">Nothing was recorded yet.</p>
          )}
          <label className="ml-auto flex items-center gap-1.5 text-dim">
            Show
            <select
              value={order}
              onChange={(event) => setOrder(event.target.value)}
              className="rounded border border-edge bg-plate px-1 py-0.5 text-ink"
            >
              {ORDERS.map(([key, label]) => (
                <option key={key} value={key}>
                  {label}
                </option>
              ))}
            </select>
          </label>
        </div>
        <ul aria-label="What fell where" className="min-h-0 flex-1 overflow-auto">
          {hits.days > 0 &&
            shown
              .slice(0, MOST_SHOWN)
              .map((row) => (
                <HitRow
                  key={row.id ?? "default verdict"}
                  session={session}
                  row={row}
                  most={most}
                  open={open === (row.id ?? "default verdict")}
                  toggle={(key) => setOpen(open === key ? undefined : key)}
                />
              ))}
          {shown.length > MOST_SHOWN && (
            <li className="px-3 py-2 text-dim text-xs">
              … and {(shown.length - MOST_SHOWN).toLocaleString("en")} more. On the rulebase{" "}
              <button
                type="button"
                className="text-rust underline"
                onClick={() => goTo({ page: "rulebase", rule: undefined, find: "hits:none" })}
              >
                hits:none
              </button>{" "}
              shows all that caught nothing.
            </li>
          )}
        </ul>
      </div>
      <Tapes session={session} hits={hits} />
    </div>
  );
}

/** More rows help nobody to see where traffic goes. */
const MOST_SHOWN = 300;

function rows(session: Session, hits: Hits): Row[] {
  const all: Row[] = (session.rulebase ? rules(session.rulebase) : [])
    .filter((rule) => rule.state === "on")
    .map((rule) => ({
      id: rule.id,
      number: rule.number,
      name: rule.name || "unnamed rule",
      verdict: rule.verdict,
      count: hits.rules[rule.id],
    }));
  all.push({
    name: "Default verdict",
    verdict: session.rulebase?.defaultVerdict ?? "deny",
    count: hits.defaultVerdict,
  });
  return all;
}

function sorted(all: Row[], order: string): Row[] {
  if (order === "hits") return [...all].sort((a, b) => (b.count?.times ?? 0) - (a.count?.times ?? 0));
  if (order === "last")
    return [...all].sort((a, b) => (a.count?.last ?? "").localeCompare(b.count?.last ?? ""));
  return all;
}

type RowProps = { session: Session; row: Row; most: number; open: boolean; toggle: (key: string) => void };

/** A rule with a bar as long as its share of the most hits; open, with the connections themselves. */
function HitRow({ session, row, most, open, toggle }: RowProps) {
  const times = row.count?.times ?? 0;
  const long = times === 0 ? 0 : Math.max(0.004, times / most);
  return (
    <li className="border-edge border-b bg-plate">
      <button
        type="button"
        aria-expanded={open}
        onClick={() => toggle(row.id ?? "default verdict")}
        className="grid w-full grid-cols-[34px_minmax(0,250px)_82px_minmax(0,1fr)_60px_92px] items-center gap-2 px-2 py-1 text-left hover:bg-paper"
      >
        <span className="text-right text-dim">{row.number}</span>
        <span className={`truncate ${times === 0 ? "text-faint italic" : ""}`}>{row.name}</span>
        <Plate verdict={row.verdict} />
        <span className="h-2.5" aria-hidden="true">
          <span className="block h-full rounded-sm bg-dim" style={{ width: `${long * 100}%` }} />
        </span>
        <span className="text-right">{times === 0 ? "none" : few(times)}</span>
        <span className="text-right text-dim text-xs">{row.count?.last.slice(0, 10)}</span>
      </button>
      {open && (
        <div className="border-edge border-t border-dashed bg-ground px-3 py-1">
          <Caught
            session={session}
            rule={row.id}
            most={12}
            drop={(probe) => goTo({ page: "rulebase", rule: undefined, find: undefined, probe })}
          />
          {row.id && (
            <button
              type="button"
              className="press my-1 text-xs"
              onClick={() => goTo({ page: "rulebase", find: undefined, rule: row.id })}
            >
              Show the rule
            </button>
          )}
        </div>
      )}
    </li>
  );
}

/** The tapes: load one, look at what it is, save it, take it out. */
function Tapes({ session, hits }: { session: Session; hits: Hits }) {
  const { fault, attempt } = useSend(session);
  const [busy, setBusy] = useState("");
  const change = async (what: string, work: Promise<Hits>) => {
    setBusy(what);
    await attempt(work.then(session.retaped));
    setBusy("");
  };
  return (
    <aside aria-label="Tapes" className="side w-[300px] shrink-0 overflow-auto border-edge border-l bg-plate">
      <div className="flex items-center justify-between border-edge border-b px-3 py-2">
        <h2 className="font-semibold">Tapes</h2>
        <LoadFile
          label="Load a tape"
          what="A CSV file of recorded traffic"
          load={(name, text) =>
            change(`Decryption ${name} …`, api.loadTape(session.id, session.who, name, text))
          }
        />
      </div>
      <p role="status" className="px-3 text-dim">
        {busy}
      </p>
      <div className="px-3">
        <Fault fault={fault} />
      </div>
      {hits.tapes.map((tape) => (
        <Tape
          key={tape.name}
          session={session}
          tape={tape}
          remove={() => change(`Removing ${tape.name} …`, api.removeTape(session.id, tape.name))}
        />
      ))}
      <p className="px-3 py-2 text-dim text-xs">
        A tape is a CSV file with two columns, <span className="font-mono">times,connection</span>: how often
        a connection was seen, and the connection in the words of the probe line with its date. Every
        connection is run through the rulebase as it is now, whatever was in force when it was seen.
      </p>
    </aside>
  );
}

function Tape({ session, tape, remove }: { session: Session; tape: TapeView; remove: () => void }) {
  return (
    <section className="border-edge border-b px-3 py-2">
      <h3 className="font-medium">{tape.name}</h3>
      {tape.trouble ? (
        <p className="text-rust text-xs">It cannot be read any more: {tape.trouble}</p>
      ) : (
        <p className="text-dim text-xs">
          {tape.times.toLocaleString("en")} connections on {tape.lines.toLocaleString("en")} lines,{" "}
          {tape.from?.slice(0, 10)} to {tape.to?.slice(0, 10)}
        </p>
      )}
      <span className="mt-1 flex gap-1">
        <a
          className="press text-xs"
          href={`/api/rulebases/${session.id}/tapes/${encodeURIComponent(tape.name)}`}
          download={`${tape.name}.csv`}
        >
          Save as CSV
        </a>
        <button type="button" className="press text-xs" onClick={remove}>
          Remove
        </button>
      </span>
    </section>
  );
}
