import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { api } from "../api/client";
import type { Session } from "../session/useSession";

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

type Props = { session: Session; file: File; read: (mapping: string) => void; cancel: () => void };

/** Which column of a table says what: guessed by their names, shown on the first lines, corrected by hand. */
export function Mapping({ session, file, read, cancel }: Props) {
  const [chosen, setChosen] = useState<Record<string, string>>({});
  const look = useQuery({
    queryKey: ["look", file.name, file.size, file.lastModified],
    queryFn: async () => api.lookAtTable(session.id, await wholeLines(file)),
  });
  if (!look.data) return <p className="px-3 text-dim">Looking at {file.name} …</p>;
  const { columns, guessed, lines, fields } = look.data;
  const mapping = { ...guessed, ...chosen };
  const column = (field: string) => mapping[field] ?? "";
  const missing = ["time", "from", "to"].filter((field) => column(field) === "");
  // Without one the lines cannot be read, for a protocol is never guessed.
  if (column("protocol") === "" && column("service") === "") missing.push("protocol");
  return (
    <form
      aria-label={`Columns of ${file.name}`}
      className="border-edge border-b bg-paper px-3 py-2 text-xs"
      onSubmit={(event) => {
        event.preventDefault();
        read(JSON.stringify(mapping));
      }}
    >
      <h3 className="font-medium">{file.name}</h3>
      <p className="text-dim">Which column says what? The first line says it as shown.</p>
      {fields.map((field) => (
        <label key={field} className="mt-0.5 grid grid-cols-[70px_1fr] items-baseline gap-1">
          <span className="text-dim">{field}</span>
          <span>
            <select
              aria-label={field}
              value={column(field)}
              onChange={(event) => setChosen({ ...chosen, [field]: event.target.value })}
              className="w-full rounded border border-edge bg-plate"
            >
              <option value="">not said</option>
              {field === "protocol" &&
                ["tcp", "udp"].map((protocol) => (
                  <option key={protocol} value={`=${protocol}`}>
                    all lines are {protocol.toUpperCase()}
                  </option>
                ))}
              {columns.map((name) => (
                <option key={name} value={name}>
                  {name}
                </option>
              ))}
            </select>
            {column(field) !== "" && (
              <span className="block truncate text-dim">{lines[0]?.[column(field)]}</span>
            )}
          </span>
        </label>
      ))}
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

/** The beginning of a file up to the last line that is whole. */
async function wholeLines(file: File): Promise<Blob> {
  const text = await file.slice(0, HEAD).text();
  const end = file.size > HEAD ? text.lastIndexOf("\n") : text.length;
  return new Blob([end > 0 ? text.slice(0, end) : text]);
}
