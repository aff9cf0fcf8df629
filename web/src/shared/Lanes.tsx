import type { Lane, Parts, Rates } from "../api/client";
import { PartFrame, PickLine, TextLine } from "./PartFrame";
import { RateLine } from "./RateLine";
import { said } from "./rates";

const NONE: Rates = { up: 0, down: 0 };
const BLANK: Lane = { name: "", scope: "gateway", ceiling: NONE, guarantee: NONE, clients: 0, note: "" };
const SCOPES: [string, string][] = [
  ["gateway", "all rules of the gateway together"],
  ["rule", "each rule for itself"],
  ["client", "each client"],
];

function both(rates?: Rates): string {
  return rates && (rates.up || rates.down) ? `up ${said(rates.up)}, down ${said(rates.down)}` : "none";
}

/** Bandwidth promises and ceilings, held against what the link carries. */
export function Lanes({ parts }: { parts: Parts }) {
  const rates = (what: string, value: Rates | undefined, set: (rates: Rates) => void) => {
    const { up = 0, down = 0 } = value ?? NONE;
    return (
      <>
        <RateLine label={`${what} up`} kbits={up} set={(next) => set({ up: next, down })} />
        <RateLine label={`${what} down`} kbits={down} set={(next) => set({ up, down: next })} />
      </>
    );
  };
  return (
    <PartFrame
      kind="lane"
      title="Lanes"
      term="lane"
      about={
        <p className="mb-1 text-dim text-xs">
          The link carries {parts.capacity ? both(parts.capacity) : "nobody said how much"}.
        </p>
      }
      parts={parts.lanes}
      blank={BLANK}
      named={(lane) => lane.name ?? ""}
      show={(lane) => (
        <>
          <b>{lane.name}</b>{" "}
          <span className="text-dim">for {SCOPES.find(([scope]) => scope === lane.scope)?.[1]}</span>
          <span className="block text-xs">
            guarantee {both(lane.guarantee)}
            {lane.clients ? ` × ${lane.clients} clients` : ""} · ceiling {both(lane.ceiling)}
          </span>
          {lane.note && <span className="block text-dim text-xs">{lane.note}</span>}
        </>
      )}
      form={(draft, set, isNew) => (
        <>
          <TextLine
            label="name"
            value={draft.name ?? ""}
            fixed={!isNew}
            set={(name) => set({ ...draft, name })}
          />
          <PickLine
            label="for"
            value={draft.scope ?? "gateway"}
            options={SCOPES}
            set={(scope) => set({ ...draft, scope })}
          />
          {rates("guarantee", draft.guarantee, (guarantee) => set({ ...draft, guarantee }))}
          {rates("ceiling", draft.ceiling, (ceiling) => set({ ...draft, ceiling }))}
          {draft.scope === "client" && (
            <label className="flex items-center gap-2 text-xs">
              <span className="w-24 shrink-0 text-dim">clients</span>
              <input
                type="number"
                min={1}
                max={1_000_000}
                step={1}
                required
                value={draft.clients ?? 0}
                onChange={(event) => set({ ...draft, clients: event.target.valueAsNumber || 0 })}
                className="w-24 rounded border border-paper-edge bg-ground/40 px-2 py-0.5"
              />
            </label>
          )}
          <TextLine label="note" value={draft.note ?? ""} set={(note) => set({ ...draft, note })} />
        </>
      )}
    />
  );
}
