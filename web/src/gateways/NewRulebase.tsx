import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { ApiError, api, type Card, type MakeRequest, type NameChoice, type Prepared } from "../api/client";
import { goTo } from "../base/address";
import { useColumnChoices } from "../base/columnChoices";
import { LoadFile } from "../base/LoadFile";
import { useSettled } from "../base/useSettled";
import type { useWorkspaceChange } from "../workspace/useWorkspace";
import { SheetColumns } from "./SheetColumns";
import { UnknownNames } from "./UnknownNames";

type Props = {
  who: string;
  cards: Card[];
  version: number;
  change: ReturnType<typeof useWorkspaceChange>;
};

const SOURCES = ["with nothing in it", "as a copy", "from a file"] as const;

/** A new rulebase: empty, as a copy, or from a file, with what it would be before it is made. */
export function NewRulebase({ who, cards, version, change }: Props) {
  const [source, setSource] = useState<(typeof SOURCES)[number]>(SOURCES[0]);
  const [name, setName] = useState("");
  const [copyOf, setCopyOf] = useState("");
  const [text, setText] = useState("");
  const [choices, setChoices] = useState<NameChoice[]>([]);
  /** The headings of a spreadsheet, once they are known. */
  const [headings, setHeadings] = useState<string[]>();
  const columns = useColumnChoices("rules", headings);
  const request: MakeRequest =
    source === "as a copy"
      ? { name, copyOf: copyOf || cards[0]?.id }
      : source === "from a file"
        ? { name, text, choices, columns: columns.chosen }
        : { name };
  const settled = useSettled(JSON.stringify(request), 250);
  const asked: MakeRequest = JSON.parse(settled);
  const prepared = useQuery({
    queryKey: ["prepare", version, settled],
    queryFn: ({ signal }) => api.prepare(asked, signal),
    enabled: !!asked.text,
    retry: false,
    placeholderData: keepPreviousData,
  });
  // What was last understood stays in view: one wrong word must not take away all that was mapped.
  const [understood, setUnderstood] = useState<Prepared>();
  useEffect(() => {
    if (!prepared.data) return;
    setUnderstood(prepared.data);
    const names = prepared.data.columns.map(({ name }) => name);
    if (names.length > 0) setHeadings(names);
  }, [prepared.data]);
  const shown = text ? (prepared.data ?? understood) : undefined;
  const refused = prepared.error instanceof ApiError ? prepared.error.problem.detail : "";
  const can =
    source === "from a file"
      ? !!prepared.data && !refused && (name.trim() !== "" || prepared.data.name !== "")
      : name.trim() !== "";
  const make = () =>
    change
      .tried(`made ${name || prepared.data?.name}`, async () => {
        const { id } = await api.make(who, request);
        columns.keep();
        goTo({ page: "rulebase", base: id, rule: undefined, probe: undefined, find: undefined });
      })
      .then((done) => done && setText(""));
  return (
    <form
      aria-label="New rulebase"
      className="flex min-w-0 flex-1 flex-col gap-2 overflow-auto bg-paper p-4"
      onSubmit={(event) => {
        event.preventDefault();
        if (can) make();
      }}
    >
      <h2 className="font-semibold">New rulebase</h2>
      <div className="flex flex-wrap items-center gap-3">
        <input
          aria-label="Name of the rulebase"
          placeholder={prepared.data?.name || "name of the gateway"}
          value={name}
          maxLength={200}
          onChange={(event) => setName(event.target.value)}
          className="w-72 rounded border border-paper-edge bg-ground/40 px-2 py-1 font-semibold placeholder:text-faint"
        />
        {SOURCES.map((one) => (
          <label key={one} className="flex items-center gap-1">
            <input
              type="radio"
              name="source"
              checked={source === one}
              onChange={() => setSource(one)}
              className="accent-rust"
            />
            {one}
          </label>
        ))}
      </div>
      {source === "with nothing in it" && (
        <p className="text-dim">
          It begins with a chapter about reaching the gateway, one rule in it that is off, and the default
          verdict deny. Nothing is let through until you say so.
        </p>
      )}
      {source === "as a copy" && (
        <label className="flex items-center gap-2">
          Of
          <select
            value={copyOf || cards[0]?.id}
            onChange={(event) => setCopyOf(event.target.value)}
            className="rounded border border-paper-edge bg-paper px-1 py-0.5"
          >
            {cards.map((card) => (
              <option key={card.id} value={card.id}>
                {card.name}
              </option>
            ))}
          </select>
          <span className="text-dim">with its rules, sets and promises, and without its history</span>
        </label>
      )}
      {source === "from a file" && (
        <>
          <div className="flex items-center gap-2">
            <LoadFile
              label="Choose a file"
              what="A rulebase as text, JSON, CSV or access lists"
              accept=".rules,.txt,.json,.csv,text/*,application/json"
              load={(file, read) => {
                setText(read);
                setChoices([]);
                setHeadings(undefined);
                columns.choose(undefined);
                if (!name) setName(file.replace(/\.[a-z]+$/i, ""));
              }}
            />
            <span className="text-dim">
              rulebase text, JSON, CSV, access lists (RFC 8519), or a spreadsheet of rules as CSV; or paste it
              here
            </span>
          </div>
          <textarea
            aria-label="The rulebase as text"
            value={text}
            spellCheck={false}
            rows={text ? 6 : 12}
            onChange={(event) => {
              setText(event.target.value);
              setChoices([]);
              setHeadings(undefined);
              columns.choose(undefined);
            }}
            className="rounded border border-paper-edge bg-ground/40 p-2 font-mono text-xs"
          />
        </>
      )}
      {refused && text && source === "from a file" && (
        <p role="alert" className="text-madder">
          {refused}
        </p>
      )}
      {source === "from a file" && shown && (
        <>
          <SheetColumns
            prepared={shown}
            set={(column, target) => columns.choose({ ...columns.chosen, [column]: target })}
            forget={columns.isAsBefore ? () => columns.choose({}) : undefined}
          />
          <Outlook prepared={shown} />
          <UnknownNames
            unknown={shown.unknown}
            choices={choices}
            choose={setChoices}
            version={version}
            make={(what, step) => change.change(what, [step])}
          />
        </>
      )}
      <div>
        <button type="submit" className="press press-main" disabled={!can}>
          Make the rulebase
        </button>
      </div>
    </form>
  );
}

/** What would be made, and the first findings of it. */
function Outlook({ prepared }: { prepared: Prepared }) {
  const { rules, chapters, sets, defaultVerdict, findings } = prepared;
  return (
    <section aria-label="What would be made" className="text-xs">
      <p className="font-medium">
        {counted(rules, "rule")} in {counted(chapters, "chapter")}, {counted(sets, "named set")}, default
        verdict {defaultVerdict}. {findings.length === 0 && "The review finds nothing to say."}
      </p>
      <ul>
        {findings.map((one) => (
          <li key={one.kind}>
            <b>
              {one.count} {one.kind}
            </b>{" "}
            <span className="text-dim">
              such as rule {one.rule}: {one.first}
            </span>
          </li>
        ))}
      </ul>
    </section>
  );
}

const counted = (count: number, thing: string) =>
  `${count.toLocaleString("en")} ${thing}${count === 1 ? "" : "s"}`;
