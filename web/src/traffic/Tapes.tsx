import { useQuery } from "@tanstack/react-query";
import { type ReactNode, useRef, useState } from "react";
import { api, type Hits, type TapeView } from "../api/client";
import { Fault } from "../base/Fault";
import { focusOnOpen } from "../base/focusOnOpen";
import { Term } from "../base/Term";
import { useAnswers, useOpenRulebase } from "../session/contexts";
import { useSend } from "../session/useSend";
import { Listen } from "./Listen";
import { isForeignTable, Mapping } from "./Mapping";

/** The tapes: load one from a capture or a table, look at what it is, save it, remove it. */
export function Tapes({ hits, children }: { hits: Hits; children?: ReactNode }) {
  const answers = useAnswers();
  const openRulebase = useOpenRulebase();
  const { fault, attempt } = useSend();
  const [busy, setBusy] = useState("");
  const [keys, setKeys] = useState<File>();
  /** Whether what was opened with keys is kept; nobody finds it kept who did not ask for it. */
  const [kept, setKept] = useState(false);
  const [list, setList] = useState<File>();
  const [hours, setHours] = useState("10");
  const file = useRef<HTMLInputElement>(null);
  const change = async (what: string, work: Promise<Hits>) => {
    setBusy(what);
    await attempt(work.then(answers.retaped));
    setBusy("");
  };
  const [table, setTable] = useState<File>();
  const [asking, setAsking] = useState<{ file: File; mapping?: string }>();
  const send = (chosen: File, mapping?: string, existing?: "beside" | "replace") => {
    setAsking(undefined);
    return change(
      `Reading ${chosen.name} …`,
      api.loadTape(openRulebase.id, openRulebase.who, nameOf(chosen.name), chosen, {
        keys,
        keepsOpened: kept,
        signIns: list && { list, hours: Number(hours) },
        mapping,
        existing,
      }),
    );
  };
  const read = (chosen: File, mapping?: string) =>
    hits.tapes.some(({ name }) => name === nameOf(chosen.name))
      ? setAsking({ file: chosen, mapping })
      : send(chosen, mapping);
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
        <h2 className="font-semibold">
          <Term word="tape">Tapes</Term>
        </h2>
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
      {asking && (
        <section
          aria-label="A tape of this name is here"
          className="border-rust border-y-2 bg-paper px-3 py-2"
        >
          <p>
            There is a tape “{nameOf(asking.file.name)}” already. Load the new one beside it, or put it in its
            place? What is replaced can be brought back for 30 days.
          </p>
          <span className="mt-1 flex gap-1">
            <button
              ref={focusOnOpen}
              type="button"
              className="press press-main text-xs"
              onClick={() => send(asking.file, asking.mapping, "beside")}
            >
              Load beside it
            </button>
            <button
              type="button"
              className="press text-xs"
              onClick={() => send(asking.file, asking.mapping, "replace")}
            >
              Replace it
            </button>
            <button type="button" className="press text-xs" onClick={() => setAsking(undefined)}>
              Cancel
            </button>
          </span>
        </section>
      )}
      {table && (
        <Mapping
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
          tape={tape}
          remove={() => change(`Removing ${tape.name} …`, api.removeTape(openRulebase.id, tape.name))}
          forget={(before) =>
            change(
              `Taking what is older than ${before} off ${tape.name} …`,
              api.forgetOlder(openRulebase.id, tape.name, before),
            )
          }
          keep={(days) =>
            change(
              days ? `Keeping ${days} days of ${tape.name} …` : `Keeping all of ${tape.name} …`,
              api.keepDays(openRulebase.id, tape.name, days),
            )
          }
        />
      ))}
      <GoneTapes
        hits={hits}
        bringBack={(number, name) =>
          change(`Bringing ${name} back …`, api.bringBackTape(openRulebase.id, number))
        }
      />
      {children}
      <Listen />
      <div className="flex flex-col gap-1.5 px-3 py-2 text-dim text-xs">
        <p>
          Captures (pcap, pcapng, also gzipped), tables and JSON lines of any columns, syslog, IPFIX. A
          capture becomes connections with the application that its signatures tell; what nobody recognises is
          shown apart.
        </p>
        <Beside name="A TLS key log" choose={setKeys}>
          A TLS key log opens what is encrypted in the next capture:
        </Beside>
        <label className="flex items-start gap-1">
          <input
            type="checkbox"
            checked={kept}
            onChange={(event) => setKept(event.target.checked)}
            className="mt-0.5 accent-rust"
          />
          Keep what it opens
        </label>
        <p>
          Hosts, paths and headers inside, with secrets masked. Otherwise only which application and feature
          it was is kept.
        </p>
        <Beside name="A list of sign-ins" choose={setList}>
          A list of sign-ins (time, address, person and, if known, until or event) says who was behind the
          addresses of what is loaded next:
        </Beside>
        {list && (
          <label className="flex items-center gap-1">
            Somebody not heard of again is there for
            <input
              inputMode="numeric"
              aria-label="Hours somebody is taken for there"
              className="field w-12"
              value={hours}
              onChange={(event) => setHours(event.target.value.replace(/\D/g, ""))}
            />
            hours
          </label>
        )}
        <p>
          Every connection is run through the rulebase as it is now, whatever was in force when it was seen.
        </p>
      </div>
    </aside>
  );
}

type GoneProps = { hits: Hits; bringBack: (number: number, name: string) => void };

/** Tapes that were removed or replaced in the last thirty days. */
function GoneTapes({ hits, bringBack }: GoneProps) {
  const openRulebase = useOpenRulebase();
  const gone = useQuery({
    queryKey: ["gone tapes", openRulebase.id, hits.state],
    queryFn: () => api.goneTapes(openRulebase.id),
  });
  if (!gone.data?.length) return null;
  return (
    <details className="border-edge border-b px-3 py-2 text-xs">
      <summary className="cursor-pointer text-dim">Removed or replaced ({gone.data.length})</summary>
      <ul>
        {gone.data.map((tape) => (
          <li key={tape.number} className="mt-1 flex items-center gap-1">
            <span className="min-w-0 flex-1 truncate">
              {tape.name}, {tape.gone.slice(0, 10)}
            </span>
            <button type="button" className="press text-xs" onClick={() => bringBack(tape.number, tape.name)}>
              Bring back
            </button>
          </li>
        ))}
      </ul>
    </details>
  );
}

type BesideProps = { name: string; choose: (file?: File) => void; children: ReactNode };

/** A file that says more of the traffic that is loaded next. */
const Beside = ({ name, choose, children }: BesideProps) => (
  <label className="flex flex-col gap-0.5">
    {children}
    <input
      type="file"
      aria-label={name}
      className="text-xs"
      onChange={(event) => choose(event.target.files?.[0])}
    />
  </label>
);

/** What a tape of a file is called. */
const nameOf = (file: string) =>
  file.replace(/(\.(csv|pcapng|pcap|cap|gz|jsonl?|log|txt|ipfix))+$/i, "") || file;

type TapeProps = {
  tape: TapeView;
  remove: () => void;
  /** Takes off what was seen before a day. */
  forget: (before: string) => void;
  /** Keeps so many days from now on; all without a number. */
  keep: (days?: number) => void;
};

function Tape({ tape, remove, forget, keep }: TapeProps) {
  const openRulebase = useOpenRulebase();
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
          href={`/api/rulebases/${openRulebase.id}/tapes/${encodeURIComponent(tape.name)}`}
          download={`${tape.name}.csv`}
        >
          Save as CSV
        </a>
        <button type="button" className="press text-xs" onClick={remove}>
          Remove
        </button>
      </span>
      {!tape.trouble && <Older tape={tape} forget={forget} keep={keep} />}
    </section>
  );
}

/** Takes the oldest traffic off a tape, once or always: how much that is stands there before anything is done. */
function Older({ tape, forget, keep }: { tape: TapeView } & Pick<TapeProps, "forget" | "keep">) {
  const openRulebase = useOpenRulebase();
  const answers = useAnswers();
  const [isAlways, setAlways] = useState(Boolean(tape.keepDays));
  const [before, setBefore] = useState("");
  const [days, setDays] = useState(String(tape.keepDays ?? ""));
  const than = isAlways ? { days: Number(days) } : { before };
  const older = useQuery({
    queryKey: ["older", openRulebase.id, answers.hits?.state, tape.name, than],
    queryFn: () => api.older(openRulebase.id, tape.name, than),
    enabled: isAlways ? /^\d+$/.test(days) : /^\d{4}-\d\d-\d\d$/.test(before),
  });
  const isKept = isAlways && days === String(tape.keepDays ?? "");
  return (
    <details className="mt-1.5 text-dim text-xs">
      <summary className="cursor-pointer">
        {tape.keepDays ? `Only the last ${tape.keepDays} days are kept` : "Keep less of it"}
      </summary>
      <span className="mt-1 flex gap-1">
        <button
          type="button"
          className="press text-xs"
          aria-pressed={!isAlways}
          onClick={() => setAlways(false)}
        >
          once
        </button>
        <button
          type="button"
          className="press text-xs"
          aria-pressed={isAlways}
          onClick={() => setAlways(true)}
        >
          always
        </button>
      </span>
      {isAlways ? (
        <label className="mt-1 flex items-center gap-1">
          The last
          <input
            inputMode="numeric"
            aria-label={`Days of ${tape.name} that are kept`}
            className="field w-14"
            value={days}
            onChange={(event) => setDays(event.target.value.replace(/\D/g, ""))}
          />
          days, today included
        </label>
      ) : (
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
      )}
      {older.error && <p className="text-rust">{older.error.message}</p>}
      {older.data && (
        <p role="status" className="mt-1">
          {older.data.lines === 0
            ? "Nothing on it is older."
            : `${older.data.times.toLocaleString("en")} connections on ${older.data.lines.toLocaleString("en")} lines are older.`}
          {older.data.isAll && " That is all of it: the tape would go."}
        </p>
      )}
      <span className="mt-1 flex gap-1">
        {older.data && !isAlways && older.data.lines > 0 && !older.data.isAll && (
          <button type="button" className="press text-xs" onClick={() => forget(before)}>
            Take them off
          </button>
        )}
        {older.data && isAlways && !isKept && (
          <button type="button" className="press text-xs" onClick={() => keep(Number(days))}>
            Keep only {days} days
          </button>
        )}
        {tape.keepDays && isAlways && (
          <button
            type="button"
            className="press text-xs"
            onClick={() => {
              setDays("");
              keep(undefined);
            }}
          >
            Keep all from now on
          </button>
        )}
      </span>
    </details>
  );
}
