import type { Prepared } from "../api/client";
import { TableColumns } from "../base/TableColumns";

type Props = {
  prepared: Prepared;
  /** What somebody said a column holds. */
  set: (column: string, target: string) => void;
  /** Where the choices are those of an earlier table. */
  forget?: () => void;
};

const SHOWN = 20;

/** How a spreadsheet of rules is read, and what of it is not understood. */
export function SheetColumns({ prepared, set, forget }: Props) {
  const { columns, samples, notUnderstood, targets } = prepared;
  if (columns.length === 0) return null;
  return (
    <>
      <TableColumns columns={columns} samples={samples} targets={targets} set={set} forget={forget} />
      {notUnderstood.length > 0 && (
        <details
          aria-label="What was not understood"
          className="mt-1 text-xs"
          open={notUnderstood.length <= SHOWN}
        >
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
    </>
  );
}
