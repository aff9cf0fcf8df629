import { useState } from "react";
import type { GatewayState } from "../api/client";
import { useOpenRulebase } from "../session/contexts";

const PAGE = "http://page.example/";

/** The very line that opens something through a gateway as a client of a zone: what a client gets is what is in force. */
export function TryIt({ gateway }: { gateway: GatewayState }) {
  const { rulebase } = useOpenRulebase();
  const [zone, setZone] = useState("");
  const [login, setLogin] = useState("");
  const [address, setAddress] = useState(PAGE);
  const chosen = gateway.ports.find((one) => one.zone === zone) ?? gateway.ports[0];
  if (!chosen || !rulebase) return null;
  const who = login.trim() ? `${login.trim()}:any@` : "";
  const line = `curl --socks5-hostname ${quoted(`${who}127.0.0.1:${chosen.port}`)} ${quoted(address)}`;
  return (
    <details className="w-full pb-1 text-xs">
      <summary className="cursor-pointer text-dim">Try it from a client on the gateway's machine</summary>
      <div className="flex flex-wrap items-end gap-3 py-1 pl-4">
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
          Open
          <input
            className="field w-56 text-ink"
            value={address}
            onChange={(event) => setAddress(event.target.value)}
          />
        </label>
        <code className="select-all rounded border border-edge bg-paper px-2 py-1 text-ink">{line}</code>
      </div>
    </details>
  );
}

/** As one word of a shell. */
export function quoted(word: string): string {
  return /^[\w@%+=:,./-]+$/.test(word) ? word : `'${word.replaceAll("'", "'\\''")}'`;
}
