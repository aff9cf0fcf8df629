import type { Lane, Parts, Rates } from "../api/client";
import type { BenchState } from "../bench/useBench";
import { PartFrame, PickLine, TextLine } from "./PartFrame";

const NONE: Rates = { there: 0, back: 0 };
const BLANK: Lane = { name: "", scope: "gateway", ceiling: NONE, guarantee: NONE, clients: 0, note: "" };
const SCOPES: [string, string][] = [
  ["gateway", "all rules of the gateway together"],
  ["rule", "each rule for itself"],
  ["client", "each client"],
];

function said(rates?: Rates): string {
  return rates && (rates.there || rates.back) ? `${rates.there} there, ${rates.back} back` : "none";
}

/** "2000 / 4000" as rates there and back; what is no number counts as nothing said. */
function read(text: string): Rates {
  const [there, back] = text.split("/").map((part) => Number.parseInt(part, 10) || 0);
  return { there: there ?? 0, back: back ?? there ?? 0 };
}

/** Bandwidth promises and ceilings, held against what the link carries. */
export function Lanes({ bench, parts }: { bench: BenchState; parts: Parts }) {
  const rates = (label: string, value: Rates | undefined, set: (rates: Rates) => void) => (
    <TextLine
      label={label}
      value={`${value?.there ?? 0} / ${value?.back ?? 0}`}
      hint="kbit/s there / back; 0 for none"
      set={(text) => set(read(text))}
    />
  );
  return (
    <PartFrame
      bench={bench}
      kind="lane"
      title="Lanes"
      about={
        <p className="mb-1 text-dim text-xs">
          The link carries {parts.capacity ? said(parts.capacity) : "nobody said how much"} (kbit/s).
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
            guarantee {said(lane.guarantee)}
            {lane.clients ? ` × ${lane.clients} clients` : ""} · ceiling {said(lane.ceiling)}
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
            <TextLine
              label="clients"
              value={String(draft.clients ?? 0)}
              set={(text) => set({ ...draft, clients: Number.parseInt(text, 10) || 0 })}
            />
          )}
          <TextLine label="note" value={draft.note ?? ""} set={(note) => set({ ...draft, note })} />
        </>
      )}
    />
  );
}
