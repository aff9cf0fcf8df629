import { useQuery } from "@tanstack/react-query";
import { type ReactNode, useRef, useState } from "react";
import { api, type Hits, type TapeView } from "../api/client";
import { Fault } from "../app/Fault";
import { useSend } from "../app/useSend";
import type { Session } from "../session/useSession";
import { Listen } from "./Listen";
import { isForeignTable, Mapping } from "./Mapping";

/** The tapes: load one from a capture or a table, look at what it is, save it, remove it. */
export function Tapes({ session, hits, children }: { session: Session; hits: Hits; children?: ReactNode }) {
  const { fault, attempt } = useSend(session);
  const [busy, setBusy] = useState("");
  const [keys, setKeys] = useState<File>();
  const file = useRef<HTMLInputElement>(null);
  const change = async (what: string, work: Promise<Hits>) => {
    setBusy(what);
    await attempt(work.then(session.retaped));
    setBusy("");
  };
  const [table, setTable] = useState<File>();
  const read = (chosen: File, mapping?: string) =>
    change(
      `Reading ${chosen.name} …`,
      api.loadTape(session.id, session.who, nameOf(chosen.name), chosen, keys, mapping),
    );
  // Which column of somebody else's table says what is shown first; everything else is read at once.
  const load = async (chosen: File) => ((await isForeignTable(chosen)) ? setTable(chosen) : read(chosen));
  return (
    <aside
      aria-label="Tapes"
      className="side w-[280px] shrink-0 overflow-auto border-edge border-l bg-plate"
      onDragOver={(event) => event.preventDefault()}
      onDrop={(event) => {
        event.preventDefault();
        const dropped = event.dataTransfer.files[0];
        if (dropped) load(dropped);
      }}
    >
      <div className="flex items-center justify-between border-edge border-b px-3 py-2">
        <h2 className="font-semibold">Tapes</h2>
        <button type="button" className="press" onClick={() => file.current?.click()}>
          Load traffic
        </button>
        <input
          ref={file}
          type="file"
          aria-label="A file of recorded traffic"
          className="hidden"
          onChange={(event) => {
            const chosen = event.target.files?.[0];
            // The same file may be chosen again once it is mended.
            event.target.value = "";
            if (chosen) load(chosen);
          }}
        />
      </div>
      <p role="status" className="px-3 text-dim">
        {busy}
      </p>
      <div className="px-3">
        <Fault fault={fault} />
      </div>
      {table && (
        <Mapping
          session={session}
          file={table}
          read={(mapping) => {
            setTable(undefined);
            read(table, mapping);
          }}
          cancel={() => setTable(undefined)}
        />
      )}
      {hits.tapes.map((tape) => (
        <Tape
          key={tape.name}
          session={session}
          tape={tape}
          remove={() => change(`Removing ${tape.name} …`, api.removeTape(session.id, tape.name))}
          forget={(before) =>
            change(
              `Taking what is older than ${before} off ${tape.name} …`,
              api.forgetOlder(session.id, tape.name, before),
            )
          }
        />
      ))}
      {children}
      <Listen session={session} />
      <div className="flex flex-col gap-1.5 px-3 py-2 text-dim text-xs">
        <p>
          Captures (pcap, pcapng, also gzipped), tables and JSON lines of any columns, syslog, IPFIX. A
          capture becomes connections with the application that its signatures tell; what nobody recognises is
          shown apart.
        </p>
        <label className="flex flex-col gap-0.5">
          A TLS key log opens what is encrypted in the next capture:
          <input
            type="file"
            aria-label="A TLS key log"
            className="text-xs"
            onChange={(event) => setKeys(event.target.files?.[0])}
          />
        </label>
        <p>
          Every connection is run through the rulebase as it is now, whatever was in force when it was seen.
        </p>
      </div>
    </aside>
  );
}

/** What a tape of a file is called. */
const nameOf = (file: string) =>
  file.replace(/(\.(csv|pcapng|pcap|cap|gz|jsonl?|log|txt|ipfix))+$/i, "") || file;

function Tape({
  session,
  tape,
  remove,
  forget,
}: {
  session: Session;
  tape: TapeView;
  remove: () => void;
  forget: (before: string) => void;
}) {
  return (
    <section className="border-edge border-b px-3 py-2" aria-label={tape.name}>
      <h3 className="font-medium">{tape.name}</h3>
      {tape.trouble ? (
        <p className="text-rust text-xs">It cannot be read any more: {tape.trouble}</p>
      ) : (
        <p className="text-dim text-xs">
          {tape.times.toLocaleString("en")} connections on {tape.lines.toLocaleString("en")} lines,{" "}
          {tape.from?.slice(0, 10)} to {tape.to?.slice(0, 10)}
        </p>
      )}
      {tape.told.length > 0 && (
        <details className="text-dim text-xs">
          <summary className="cursor-pointer">{tape.told[0]}</summary>
          <ul className="list-disc pl-4">
            {tape.told.slice(1).map((sentence) => (
              <li key={sentence}>{sentence}</li>
            ))}
          </ul>
        </details>
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
      {!tape.trouble && <Older session={session} tape={tape} forget={forget} />}
    </section>
  );
}

/** Takes the oldest traffic off a tape: how much that is stands there before anything is done. */
function Older({
  session,
  tape,
  forget,
}: {
  session: Session;
  tape: TapeView;
  forget: (before: string) => void;
}) {
  const [before, setBefore] = useState("");
  const older = useQuery({
    queryKey: ["older", session.id, session.hits?.state, tape.name, before],
    queryFn: () => api.older(session.id, tape.name, before),
    enabled: /^\d{4}-\d\d-\d\d$/.test(before),
  });
  return (
    <details className="mt-1.5 text-dim text-xs">
      <summary className="cursor-pointer">Keep less of it</summary>
      <label className="mt-1 flex items-center gap-1">
        Nothing before
        <input
          type="date"
          aria-label={`Nothing of ${tape.name} before`}
          className="field"
          value={before}
          min={tape.from?.slice(0, 10)}
          max={tape.to?.slice(0, 10)}
          onChange={(event) => setBefore(event.target.value)}
        />
      </label>
      {older.error && <p className="text-rust">{older.error.message}</p>}
      {older.data && (
        <p role="status" className="mt-1">
          {older.data.lines === 0
            ? "Nothing on it is older."
            : `${older.data.times.toLocaleString("en")} connections on ${older.data.lines.toLocaleString("en")} lines are older.`}{" "}
          {older.data.lines > 0 && (
            <button type="button" className="press text-xs" onClick={() => forget(before)}>
              Take them off
            </button>
          )}
        </p>
      )}
    </details>
  );
}
