import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { api } from "../api/client";
import { useColumnChoices } from "../base/columnChoices";
import { TableColumns } from "../base/TableColumns";
import { useOpenRulebase } from "../session/contexts";

const HEAD = 65_536;

/** Whether a file is a table or JSON lines in somebody else's words. */
export async function isForeignTable(file: File): Promise<boolean> {
  const head = new Uint8Array(await file.slice(0, HEAD).arrayBuffer());
  // Captures and flow records hold bytes that no text does.
  if (head.length === 0 || head.some((byte) => byte === 0)) return false;
  const text = new TextDecoder()
    .decode(head)
    .replace(/^\uFEFF/, "")
    .trimStart();
  if (/^<\d/.test(text)) return false;
  return !/^"?(times"?,"?connection|connection"?,"?times)\b/.test(text);
}

type Props = { file: File; read: (mapping: string) => void; cancel: () => void };

const NOTHING = "nothing";

/** Which column of a table of connections says what: guessed by their names, shown on the first lines, corrected by hand. */
export function Mapping({ file, read, cancel }: Props) {
  const openRulebase = useOpenRulebase();
  const look = useQuery({
    queryKey: ["look", file.name, file.size, file.lastModified],
    queryFn: async () => api.lookAtTable(openRulebase.id, await wholeLines(file)),
  });
  const choices = useColumnChoices("connections", look.data?.columns);
  /** The protocol of all lines, where no column says it. */
  const [protocol, setProtocol] = useState("");
  if (look.error)
    return (
      <p role="alert" className="px-3 text-madder">
        {look.error.message}{" "}
        <button type="button" className="press text-xs" onClick={cancel}>
          Cancel
        </button>
      </p>
    );
  if (!look.data) return <p className="px-3 text-dim">Looking at {file.name} …</p>;
  const { columns, lines, fields } = look.data;
  const targets = columnTargets(columns, look.data.guessed, choices.chosen);
  const of = (field: string) => columns.find((column) => targets[column] === field) ?? "";
  const missing = ["time", "from", "to"].filter((field) => of(field) === "");
  // Without one the lines cannot be read, for a protocol is never guessed.
  const isProtocolSaid = of("protocol") !== "" || of("service") !== "";
  if (!isProtocolSaid && protocol === "") missing.push("protocol");
  return (
    <form
      aria-label={`Columns of ${file.name}`}
      className="flex flex-col gap-1 border-edge border-b bg-paper px-3 py-2 text-xs"
      onSubmit={(event) => {
        event.preventDefault();
        choices.keep();
        const said = Object.fromEntries(fields.filter(of).map((field) => [field, of(field)]));
        read(JSON.stringify(isProtocolSaid ? said : { ...said, protocol: `=${protocol}` }));
      }}
    >
      <h3 className="font-medium">{file.name}</h3>
      <TableColumns
        columns={columns.map((name) => ({ name, target: targets[name] }))}
        samples={lines.map((line) => columns.map((name) => line[name] ?? ""))}
        targets={[...fields, NOTHING]}
        set={(column, target) => choices.choose({ ...targets, [column]: target })}
        forget={choices.isAsBefore ? () => choices.choose({}) : undefined}
      />
      {!isProtocolSaid && (
        <label className="flex items-center gap-1">
          No column says the protocol; all lines are
          <select
            aria-label="Protocol of all lines"
            value={protocol}
            onChange={(event) => setProtocol(event.target.value)}
            className="rounded border border-edge bg-plate"
          >
            <option value="">…</option>
            <option value="tcp">TCP</option>
            <option value="udp">UDP</option>
          </select>
        </label>
      )}
      {missing.length > 0 && <p className="text-madder">Say which column says {missing.join(" and ")}.</p>}
      <span className="mt-1 flex gap-1">
        <button type="submit" className="press press-main text-xs" disabled={missing.length > 0}>
          Read it
        </button>
        <button type="button" className="press text-xs" onClick={cancel}>
          Cancel
        </button>
      </span>
    </form>
  );
}

/** What each column says: as somebody chose, else as its name says; no two say the same, and a choice goes before a guess. */
export function columnTargets(
  columns: string[],
  guessed: Record<string, string>,
  chosen: Record<string, string>,
): Record<string, string> {
  const usual = Object.fromEntries(Object.entries(guessed).map(([field, column]) => [column, field]));
  const isTaken = new Set(columns.map((column) => chosen[column]));
  return Object.fromEntries(
    columns.map((column) => {
      const own = usual[column];
      return [column, chosen[column] ?? (own && !isTaken.has(own) ? own : NOTHING)];
    }),
  );
}

/** The beginning of a file up to the last line that is whole. */
async function wholeLines(file: File): Promise<Blob> {
  const text = await file.slice(0, HEAD).text();
  const end = file.size > HEAD ? text.lastIndexOf("\n") : text.length;
  return new Blob([end > 0 ? text.slice(0, end) : text]);
}
