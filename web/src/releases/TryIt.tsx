import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { api, type GatewayState, type Tried } from "../api/client";
import { Fault } from "../base/Fault";
import { useOpenRulebase } from "../session/contexts";
import { useSend } from "../session/useSend";
import { DecidedBy } from "./DecidedBy";
import { got } from "./got";

const PAGE = "http://page.example/";

/** Opens something through a gateway as a client of a zone, for real: what a client gets is what is in force. */
export function TryIt({ gateway }: { gateway: GatewayState }) {
  const { rulebase } = useOpenRulebase();
  const client = useQueryClient();
  const { fault, attempt } = useSend();
  const [sending, setSending] = useState(false);
  const [tried, setTried] = useState<Tried>();
  const [zone, setZone] = useState("");
  const [login, setLogin] = useState("");
  const [address, setAddress] = useState(PAGE);
  const chosen = gateway.ports.find((one) => one.zone === zone) ?? gateway.ports[0];
  if (!chosen || !rulebase) return null;
  const who = login.trim() ? `${login.trim()}:any@` : "";
  const line = `curl --socks5-hostname ${quoted(`${who}127.0.0.1:${chosen.port}`)} ${quoted(address)}`;
  return (
    <details className="w-full pb-1 text-xs">
      <summary className="cursor-pointer text-dim">Try it from a client</summary>
      <form
        aria-label={`Try ${gateway.name}`}
        className="flex flex-wrap items-end gap-3 py-1 pl-4"
        onSubmit={(event) => {
          event.preventDefault();
          setTried(undefined);
          setSending(true);
          attempt(
            api.tryOpen(gateway.name, chosen.zone, login.trim(), address.trim()).then(setTried),
          ).finally(() => {
            setSending(false);
            client.invalidateQueries({ queryKey: ["decided"] });
            client.invalidateQueries({ queryKey: ["gateway-hits"] });
          });
        }}
      >
        <label className="flex flex-col text-dim">
          From
          <select
            className="field text-ink"
            value={chosen.zone}
            onChange={(event) => setZone(event.target.value)}
          >
            {gateway.ports.map((one) => (
              <option key={one.zone}>{one.zone}</option>
            ))}
          </select>
        </label>
        <label className="flex flex-col text-dim">
          As, or nobody known
          <input
            className="field w-36 text-ink"
            value={login}
            placeholder="a login"
            onChange={(event) => setLogin(event.target.value)}
          />
        </label>
        <label className="flex flex-col text-dim">
          Address
          <input
            className="field w-56 text-ink"
            value={address}
            onChange={(event) => setAddress(event.target.value)}
          />
        </label>
        <button type="submit" className="press press-main" disabled={sending}>
          {sending ? "Opening …" : "Open it"}
        </button>
      </form>
      <div className="pl-4">
        <Fault fault={fault} />
        {tried && (
          <section aria-label={`What came of it on ${gateway.name}`} className="my-1">
            <p role="status">
              <b className="font-medium">{got(tried)}</b>{" "}
              {tried.decided ? (
                <DecidedBy decided={tried.decided} />
              ) : (
                !tried.end.startsWith("no ") && (
                  <span className="text-rust">{gateway.name} has not said yet what it decided.</span>
                )
              )}
            </p>
            {tried.body && (
              <details>
                <summary className="cursor-pointer text-dim">What the client was sent, as text</summary>
                <pre className="max-h-40 overflow-auto whitespace-pre-wrap rounded border border-edge bg-paper p-2">
                  {tried.body}
                </pre>
              </details>
            )}
          </section>
        )}
        <p className="py-1 text-dim">
          The same from a shell on the gateway's machine:{" "}
          <code className="select-all rounded border border-edge bg-paper px-2 py-1 text-ink">{line}</code>
        </p>
      </div>
    </details>
  );
}

/** As one word of a shell. */
export function quoted(word: string): string {
  return /^[\w@%+=:,./-]+$/.test(word) ? word : `'${word.replaceAll("'", "'\\''")}'`;
}
