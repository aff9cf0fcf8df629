import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useDeferredValue, useState } from "react";
import { api, type Sample, type WorkspaceStep } from "../api/client";
import { goTo } from "../base/address";
import { Fault } from "../base/Fault";
import { useAnswers, useOpenRulebase } from "../session/contexts";
import { useWorkspace, useWorkspaceChange } from "../workspace/useWorkspace";
import { bytes } from "./units";

type Props = { sample: Sample };

/** A signature for what a connection showed: put together from it, tried on all tapes at once, saved as one's own. */
export function SignatureEditor({ sample }: Props) {
  const openRulebase = useOpenRulebase();
  const answers = useAnswers();
  const workspace = useWorkspace(openRulebase.who);
  const change = useWorkspaceChange(openRulebase.who);
  const client = useQueryClient();
  const [name, setName] = useState("");
  const [category, setCategory] = useState("");
  const [feature, setFeature] = useState("");
  const [text, setText] = useState("");
  const [saved, setSaved] = useState("");
  const [marked, setMarked] = useState<[number, number]>();
  const proposals = useQuery({
    queryKey: ["proposals", openRulebase.id, sample.tape, sample.number],
    queryFn: () => api.proposals(openRulebase.id, sample.tape, sample.number),
  });
  const catalogue = useQuery({ queryKey: ["catalogue"], queryFn: api.catalogue });
  const known = catalogue.data?.applications.find((one) => one.name === name.trim());
  const own = known?.own ? known : undefined;
  const line = (feature.trim() ? `feature ${feature.trim()}: ` : "") + text.trim();
  const signatures = [...(own?.signatures ?? []), ...(text.trim() ? [line] : [])];
  const features = [...new Set([...(own?.features ?? []), ...(feature.trim() ? [feature.trim()] : [])])];
  const carrier = sample.facts.find((fact) => fact.field === "protocol")?.value;
  const ridesOn = [...new Set([...(own?.ridesOn ?? []), ...(carrier ? [carrier] : [])])];
  const asked = useDeferredValue(
    JSON.stringify({ application: name.trim() || "new application", features, ridesOn, signatures }),
  );
  const tried = useQuery({
    queryKey: ["try", openRulebase.id, answers.hits?.state, asked],
    queryFn: () => api.trySignatures(openRulebase.id, JSON.parse(asked)),
    enabled: text.trim() !== "",
    placeholderData: (before) => before,
  });
  const add = (term: string) => setText(text.trim() === "" ? term : `${text.trim()} and ${term}`);
  const doc = {
    name: name.trim(),
    category: own?.category ?? category.trim(),
    family: own?.family ?? "",
    provider: own?.provider ?? "",
    exposure: own?.exposure ?? "slight",
    workValue: own?.workValue ?? "none",
    content: own?.content ?? "plain",
    usualPorts: own?.usualPorts ?? (/^(tcp|udp|sctp)/.test(sample.service) ? [sample.service] : []),
    ridesOn,
    needs: own?.needs ?? [],
    features,
    description: own?.description ?? "",
    signatures,
  };
  const isTaken = known !== undefined && !known.own;
  const problems = tried.data?.problems ?? [];
  const isReady =
    doc.name !== "" && doc.category !== "" && text.trim() !== "" && !isTaken && problems.length === 0;
  const save = async () => {
    const steps: WorkspaceStep[] = [{ op: "PUT", kind: "application", doc }];
    if (await change.change(`wrote a signature for ${doc.name}`, steps)) {
      setSaved(doc.name);
      await client.invalidateQueries();
    }
  };
  return (
    <form
      aria-label="Signature"
      className="min-h-0 flex-1 overflow-auto p-3"
      onSubmit={(event) => {
        event.preventDefault();
        if (isReady && workspace.data) save();
      }}
    >
      <p className="mb-1 text-xs">{sample.probe}</p>
      <h2 className="font-semibold text-xs">What it showed</h2>
      <table className="w-full text-xs">
        <tbody>
          {sample.facts.map((fact, index) => (
            <tr
              key={`${fact.field} ${fact.header ?? ""} ${index}`}
              className="border-edge border-b align-top"
            >
              <th scope="row" className="w-[110px] py-1 pr-2 text-left font-normal text-dim">
                {fact.field} {fact.header}
              </th>
              <td className="py-1">
                {fact.text == null ? (
                  <span className="break-all">{fact.value}</span>
                ) : (
                  <Hex
                    value={fact.value}
                    text={fact.text}
                    marked={fact.field === "client bytes" ? marked : undefined}
                    mark={(range) => fact.field === "client bytes" && setMarked(range)}
                    use={(range) => add(maskedTerm(fact.field, fact.value, range))}
                  />
                )}
                <span className="mt-0.5 flex flex-wrap gap-1">
                  {proposals.data
                    ?.filter(
                      (one) =>
                        one.field === fact.field &&
                        (one.header ?? "") === (fact.header ?? "") &&
                        (fact.text != null || one.value === fact.value),
                    )
                    .flatMap((one) => one.terms)
                    .map((term) => (
                      <button
                        key={term}
                        type="button"
                        className="press font-mono text-xs"
                        onClick={() => add(term)}
                      >
                        + {term}
                      </button>
                    ))}
                </span>
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      <label className="mt-2 flex flex-col gap-0.5 text-xs">
        <span className="font-semibold">Signature</span>
        <textarea
          value={text}
          rows={2}
          spellCheck={false}
          placeholder="server name under example.example"
          onChange={(event) => setText(event.target.value)}
          className="rounded border border-edge bg-paper px-1.5 py-1 font-mono"
        />
      </label>
      {text.trim() !== "" && tried.data && (
        <div role="status" className="my-1 text-xs">
          {problems.map((problem) => (
            <p key={problem} className="text-madder">
              {problem}
            </p>
          ))}
          {problems.length === 0 && (
            <p>
              It recognises <b>{tried.data.times.toLocaleString("en")}</b> recorded connections
              {tried.data.bytes > 0 && ` (${bytes(tried.data.bytes)})`}.
              {tried.data.taken
                .filter((one) => one.application !== "")
                .map((one) => (
                  <span key={one.application} className="text-rust">
                    {" "}
                    {one.times.toLocaleString("en")} of them are {one.application} now.
                  </span>
                ))}
            </p>
          )}
          {tried.data.clashes.map((clash) => (
            <p key={clash} className="text-rust">
              It cannot be told apart: {clash}
            </p>
          ))}
        </div>
      )}
      <div className="mt-1 flex flex-wrap items-end gap-2 text-xs">
        <Field label="Application" value={name} set={setName} />
        {!own && <Field label="Category" value={category} set={setCategory} options="categories" />}
        <Field label="Feature, if it is about one" value={feature} set={setFeature} />
        <datalist id="categories">
          {[...new Set(catalogue.data?.applications.map((one) => one.category))].map((one) => (
            <option key={one} value={one} />
          ))}
        </datalist>
        <button type="submit" className="press press-main" disabled={!isReady}>
          Save as your own
        </button>
      </div>
      {isTaken && (
        <p className="text-madder text-xs">
          The edition has an application {name.trim()}; give your own another name.
        </p>
      )}
      <Fault fault={change.fault} />
      {saved && (
        <p role="status" className="mt-1 text-xs">
          {saved} is recognised now.{" "}
          <button
            type="button"
            className="text-rust underline"
            onClick={() => goTo({ page: "rulebase", probe: sample.probe, draft: `deny using ${saved}` })}
          >
            Write a rule about it
          </button>
        </p>
      )}
    </form>
  );
}

type FieldProps = { label: string; value: string; set: (value: string) => void; options?: string };

function Field({ label, value, set, options }: FieldProps) {
  return (
    <label className="flex flex-col text-dim">
      {label}
      <input
        value={value}
        list={options}
        onChange={(event) => set(event.target.value)}
        className="w-40 rounded border border-edge bg-paper px-1 py-0.5 text-ink"
      />
    </label>
  );
}

/** The term that asks for some of the bytes where they stand. */
export function maskedTerm(field: string, hex: string, [from, to]: [number, number]): string {
  const chosen = hex
    .split(" ")
    .slice(from, to + 1)
    .join(" ");
  return from === 0 ? `${field} starts hex "${chosen}"` : `${field} at ${from} is hex "${chosen}"`;
}

type HexProps = {
  value: string;
  text: string;
  marked?: [number, number];
  mark: (range: [number, number] | undefined) => void;
  use: (range: [number, number]) => void;
};

const ACROSS = 16;

/** Bytes as digits and letters; pressing one marks it, and a second one all between. */
function Hex({ value, text, marked, mark, use }: HexProps) {
  const digits = value.split(" ").filter(Boolean);
  const press = (index: number) =>
    mark(marked && marked[0] === marked[1] && index > marked[0] ? [marked[0], index] : [index, index]);
  const isIn = (index: number) => marked !== undefined && index >= marked[0] && index <= marked[1];
  const rows = Array.from({ length: Math.ceil(digits.length / ACROSS) }, (_, row) => row * ACROSS);
  return (
    <div className="font-mono">
      {rows.map((start) => (
        <div key={start} className="flex">
          {digits.slice(start, start + ACROSS).map((pair, offset) => (
            <button
              // The place of a byte is what it is.
              key={start + offset}
              type="button"
              aria-pressed={isIn(start + offset)}
              aria-label={`byte ${start + offset}: ${pair}`}
              onClick={() => press(start + offset)}
              className={`min-h-6 min-w-6 ${isIn(start + offset) ? "bg-rust-wash text-rust" : ""}`}
            >
              {pair}
            </button>
          ))}
          <span className="pl-3 text-dim">{text.slice(start, start + ACROSS)}</span>
        </div>
      ))}
      {marked && (
        <button type="button" className="press mt-0.5 font-sans text-xs" onClick={() => use(marked)}>
          + bytes {marked[0]} to {marked[1]}
        </button>
      )}
    </div>
  );
}
