import type { Prepared } from "../api/client";

type Props = {
  prepared: Prepared;
  /** What somebody said a column holds. */
  set: (column: string, target: string) => void;
};

const SHOWN = 20;

/** How a spreadsheet of rules is read: what each column holds, corrected by hand, above its first lines. */
export function SheetColumns({ prepared, set }: Props) {
  const { columns, samples, notUnderstood, targets } = prepared;
  if (columns.length === 0) return null;
  return (
    <section aria-label="How the columns are read">
      <h3 className="font-semibold">What each column holds</h3>
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
      {notUnderstood.length > 0 && (
        <details className="mt-1 text-xs" open={notUnderstood.length <= SHOWN}>
          <summary className="cursor-pointer py-1 font-medium">
            {notUnderstood.length === 1 ? "One thing was" : `${notUnderstood.length} things were`} not
            understood; each stands in the note of its rule, which is off
          </summary>
          <ul className="pl-4">
            {notUnderstood.map((one) => (
              <li key={one}>{one}</li>
            ))}
          </ul>
        </details>
      )}
    </section>
  );
}
