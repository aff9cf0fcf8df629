type Props = {
  columns: { name: string; target: string }[];
  /** The first lines, by column. */
  samples: string[][];
  /** What a column can hold. */
  targets: string[];
  set: (column: string, target: string) => void;
  /** Where the choices are those of an earlier table: goes back to what the headings say. */
  forget?: () => void;
};

/** What each column of somebody's table holds, corrected by hand, above its first lines. */
export function TableColumns({ columns, samples, targets, set, forget }: Props) {
  return (
    <section aria-label="How the columns are read">
      <h3 className="font-semibold">What each column holds</h3>
      {forget && (
        <p className="flex items-center gap-2 text-dim text-xs">
          As it was said of the last table with these headings.
          <button type="button" className="press text-xs" onClick={forget}>
            Read by the headings
          </button>
        </p>
      )}
      <div className="overflow-x-auto">
        <table className="border-collapse text-xs">
          <thead>
            <tr>
              {columns.map((column) => (
                <th
                  key={column.name}
                  className="border border-paper-edge p-1 text-left align-top font-normal"
                >
                  <b className="block">{column.name}</b>
                  <select
                    aria-label={`What ${column.name} holds`}
                    value={column.target}
                    onChange={(event) => set(column.name, event.target.value)}
                    className="mt-1 rounded border border-paper-edge bg-paper px-1 py-0.5"
                  >
                    {targets.map((target) => (
                      <option key={target}>{target}</option>
                    ))}
                  </select>
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {samples.map((line) => (
              <tr key={line.join("|")}>
                {columns.map((column, at) => (
                  <td key={column.name} className="max-w-48 truncate border border-paper-edge px-1">
                    {line[at]}
                  </td>
                ))}
              </tr>
            ))}
          </tbody>
        </table>
      </div>
    </section>
  );
}
