import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect, useRef, useState } from "react";
import { api } from "../api/client";
import { Fault } from "../base/Fault";
import { useAnswers, useOpenRulebase } from "../session/contexts";
import { useSend } from "../session/useSend";

const KINDS: [string, string][] = [
  ["syslog udp", "syslog over UDP"],
  ["syslog tcp", "syslog over TCP"],
  ["syslog tls", "syslog over TLS"],
  ["ipfix udp", "IPFIX over UDP"],
  ["ipfix tcp", "IPFIX over TCP"],
];

/** Live traffic: off until somebody switches it on for a tape of its own. */
export function Listen() {
  const openRulebase = useOpenRulebase();
  const answers = useAnswers();
  const client = useQueryClient();
  const { fault, attempt } = useSend();
  const [isOpen, setOpen] = useState(false);
  const [tape, setTape] = useState("live");
  const [kind, setKind] = useState(KINDS[0][0]);
  const [port, setPort] = useState("5514");
  const listeners = useQuery({
    queryKey: ["listeners", openRulebase.id],
    queryFn: () => api.listeners(openRulebase.id),
    refetchInterval: (query) => ((query.state.data?.length ?? 0) > 0 ? 3000 : false),
  });
  const received = (listeners.data ?? []).reduce((sum, one) => sum + one.received, 0);
  const before = useRef(received);
  // What came in is on the tape a moment later.
  useEffect(() => {
    if (received === before.current) return;
    before.current = received;
    api.hits(openRulebase.id).then(answers.retaped, () => undefined);
  }, [received, openRulebase.id, answers.retaped]);
  const again = () => client.invalidateQueries({ queryKey: ["listeners", openRulebase.id] });
  return (
    <section aria-label="Live traffic" className="border-edge border-b px-3 py-2 text-xs">
      <h3 className="flex items-center justify-between font-medium">
        Live traffic
        {!isOpen && (
          <button type="button" className="press font-normal text-xs" onClick={() => setOpen(true)}>
            Listen
          </button>
        )}
      </h3>
      {listeners.data?.map((one) => (
        <p key={one.tape} className="mt-1 flex items-center justify-between gap-1">
          <span>
            {one.tape}: {one.kind} over {one.transport} on port {one.port},{" "}
            {one.received.toLocaleString("en")} received
            {one.refused > 0 && `, ${one.refused.toLocaleString("en")} not readable`}
            {one.lost > 0 && (
              <strong className="text-madder">
                , {one.lost.toLocaleString("en")} datagrams lost: they came faster than they could be read
              </strong>
            )}
            {one.trouble && <span className="text-madder"> – {one.trouble}</span>}
          </span>
          <button
            type="button"
            className="press text-xs"
            onClick={() => attempt(api.unlisten(openRulebase.id, one.tape)).then(again)}
          >
            Stop
          </button>
        </p>
      ))}
      {isOpen && (
        <form
          aria-label="Listen for live traffic"
          className="mt-1 flex flex-wrap items-end gap-1"
          onSubmit={async (event) => {
            event.preventDefault();
            const [what, over] = kind.split(" ");
            const done = await attempt(
              api.listen(openRulebase.id, tape.trim(), { kind: what, transport: over, port: Number(port) }),
            );
            if (done) setOpen(false);
            again();
          }}
        >
          <input
            aria-label="Tape"
            value={tape}
            onChange={(event) => setTape(event.target.value)}
            className="w-20 rounded border border-edge bg-paper px-1"
          />
          <select
            aria-label="What listens"
            value={kind}
            onChange={(event) => setKind(event.target.value)}
            className="rounded border border-edge bg-plate"
          >
            {KINDS.map(([key, name]) => (
              <option key={key} value={key}>
                {name}
              </option>
            ))}
          </select>
          <input
            aria-label="Port"
            inputMode="numeric"
            value={port}
            onChange={(event) => setPort(event.target.value.replace(/\D/g, ""))}
            className="w-16 rounded border border-edge bg-paper px-1"
          />
          <button type="submit" className="press press-main text-xs">
            Start
          </button>
          <button type="button" className="press text-xs" onClick={() => setOpen(false)}>
            Cancel
          </button>
        </form>
      )}
      <Fault fault={fault} />
    </section>
  );
}
