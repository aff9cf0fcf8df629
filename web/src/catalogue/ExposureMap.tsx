import type { Application, ReachCell } from "../api/client";
import { Hole, stopped, told } from "../reach/Hole";
import { EXPOSURES } from "./Exposure";

const WORK_VALUES = ["core", "some", "none"];

/** A field of the map: applications of one exposure and one work value. */
export type Field = { exposure: string; workValue: string };

type Props = {
  shown: Application[];
  standing: Map<string, ReachCell>;
  open?: Application;
  choose: (name: string) => void;
  field?: Field;
  setField: (field?: Field) => void;
};

/**
 * The catalogue as a sieve: a hole for each application, by how dangerous it is and how much the company needs it,
 * filled as far as the rulebase stops it. What is open at the lower right is what one may want to close.
 */
export function ExposureMap({ shown, standing, open, choose, field, setField }: Props) {
  return (
    <table
      className="w-full table-fixed border-collapse"
      aria-label="Applications by exposure and work value"
    >
      <thead>
        <tr>
          <th className="w-24 pb-0.5 text-left font-normal text-dim text-xs">work value</th>
          {EXPOSURES.map((exposure) => (
            <th key={exposure} className="pb-0.5 text-left font-normal text-dim text-xs">
              {exposure} exposure
            </th>
          ))}
        </tr>
      </thead>
      <tbody>
        {WORK_VALUES.map((workValue) => (
          <tr key={workValue}>
            <th className="align-top font-normal text-dim text-xs">
              <span className="block pt-1 text-left">{workValue}</span>
            </th>
            {EXPOSURES.map((exposure) => {
              const here = shown.filter((a) => a.exposure === exposure && a.workValue === workValue);
              const isOpen = field?.exposure === exposure && field.workValue === workValue;
              const passing = here.filter((a) => passes(standing.get(a.name))).length;
              return (
                <td
                  key={exposure}
                  className={`border p-1 align-top ${isOpen ? "border-rust bg-rust-wash" : "border-edge bg-plate"}`}
                >
                  <button
                    type="button"
                    aria-pressed={isOpen}
                    disabled={here.length === 0}
                    onClick={() => setField(isOpen ? undefined : { exposure, workValue })}
                    className="mb-0.5 block w-full text-left text-xs hover:text-rust disabled:text-faint"
                  >
                    {here.length === 0 ? "none" : `${here.length}, ${passing} let through`}
                  </button>
                  <span className="flex flex-wrap">
                    {[...here].sort(byStanding(standing)).map((application) => (
                      <button
                        key={application.name}
                        type="button"
                        // By keyboard one goes by the number above, which opens a list of them.
                        tabIndex={-1}
                        aria-hidden="true"
                        title={`${application.name}: ${word(standing.get(application.name))}`}
                        onClick={() => choose(application.name)}
                        className={`block h-[13px] w-[13px] cursor-pointer overflow-hidden rounded-full ${open === application ? "bg-rust-wash outline outline-2 outline-rust" : ""}`}
                      >
                        <Standing cell={standing.get(application.name)} size={13} />
                      </button>
                    ))}
                  </span>
                </td>
              );
            })}
          </tr>
        ))}
      </tbody>
    </table>
  );
}

/** How an application stands, as a hole; nothing until it is known. */
export function Standing({ cell, size }: { cell?: ReachCell; size?: number }) {
  return cell ? <Hole standing={cell.standing} stopped={stopped(cell)} size={size} /> : null;
}

/** Whether more of it is let through than stopped. */
export function passes(cell?: ReachCell): boolean {
  return cell !== undefined && stopped(cell) < 0.5;
}

function word(cell?: ReachCell): string {
  return cell ? told(cell) : "not known yet";
}

function byStanding(standing: Map<string, ReachCell>) {
  const part = (application: Application) => {
    const cell = standing.get(application.name);
    return cell ? stopped(cell) : 2;
  };
  return (a: Application, b: Application) => part(a) - part(b);
}
