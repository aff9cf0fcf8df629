import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { ApiError, api, type WorkspaceStep } from "../api/client";
import { useColumnChoices } from "../base/columnChoices";
import { LoadFile } from "../base/LoadFile";
import { TableColumns } from "../base/TableColumns";
import { WorkspaceImpact } from "../workspace/WorkspaceImpact";

/** A file as it was chosen. */
export type Loaded = { name: string; text: string };

type Props = {
  file: Loaded;
  version: number;
  save: (what: string, steps: WorkspaceStep[]) => Promise<boolean>;
  close: () => void;
};

/** LDIF begins with a version or a distinguished name; everything else is read as CSV. */
export function formatOf(text: string): "csv" | "ldif" {
  const first = text
    .split(/\r?\n/)
    .map((line) => line.replace(/^\uFEFF/, "").trim())
    .find((line) => line !== "" && !line.startsWith("#"));
  return /^(version:|dn::?)/i.test(first ?? "") ? "ldif" : "csv";
}

/** People and groups from a file, with what that would do to every rulebase before anything is saved. */
export function LoadDirectory({ file, version, save, close }: Props) {
  const format = formatOf(file.text);
  const [others, setOthers] = useState("keep");
  const [groups, setGroups] = useState<Loaded>();
  const [headings, setHeadings] = useState<string[]>();
  const columns = useColumnChoices("people", headings);
  const look = useQuery({
    queryKey: ["people", file.name, file.text.length, columns.chosen],
    queryFn: async ({ signal }) => {
      const seen = await api.lookAtPeople(file.text, columns.chosen, signal);
      setHeadings(seen.columns.map(({ name }) => name));
      return seen;
    },
    enabled: format === "csv",
    retry: false,
    placeholderData: keepPreviousData,
  });
  const isReadable = format === "ldif" || !!look.data?.columns.some(({ target }) => target === "login");
  const steps: WorkspaceStep[] = [
    {
      op: "LOAD_DIRECTORY",
      format,
      people: file.text,
      groups: groups?.text,
      others,
      columns: columns.chosen,
    },
  ];
  return (
    <form
      aria-label="People from a file"
      className="flex min-w-0 flex-1 flex-col gap-2 overflow-auto bg-paper p-4"
      onSubmit={(event) => {
        event.preventDefault();
        save(`loaded the directory from ${file.name}`, steps).then((saved) => saved && columns.keep());
      }}
    >
      <h2 className="font-semibold">
        {file.name} <span className="font-normal text-dim">read as {format === "ldif" ? "LDIF" : "CSV"}</span>
      </h2>
      {look.error instanceof ApiError && (
        <p role="alert" className="text-madder">
          {look.error.problem.detail}
        </p>
      )}
      {look.data && (
        <TableColumns
          {...look.data}
          set={(column, target) => columns.choose({ ...columns.chosen, [column]: target })}
          forget={columns.isAsBefore ? () => columns.choose({}) : undefined}
        />
      )}
      {look.data && !isReadable && (
        <p className="text-madder">Say which column holds the login: people are told apart by it.</p>
      )}
      {format === "csv" && (
        <p className="flex items-center gap-2 text-xs">
          <LoadFile
            label={groups ? `Groups: ${groups.name}` : "Add a file of groups"}
            what="Groups as CSV"
            load={(name, text) => setGroups({ name, text })}
          />
          <span className="text-dim">
            name, inside, note; groups that only people name are made by themselves
          </span>
        </p>
      )}
      <fieldset className="flex flex-wrap items-center gap-3 text-xs">
        <legend className="sr-only">People and groups the file does not name</legend>
        <span className="text-dim">Whom it does not name</span>
        {[
          ["keep", "stays"],
          ["remove", "is removed"],
        ].map(([value, label]) => (
          <label key={value} className="flex items-center gap-1">
            <input
              type="radio"
              name="others"
              checked={others === value}
              onChange={() => setOthers(value ?? "keep")}
              className="accent-rust"
            />
            {label}
          </label>
        ))}
      </fieldset>
      {isReadable && <WorkspaceImpact version={version} steps={steps} />}
      <div className="flex gap-2">
        <button type="submit" className="press press-main" disabled={!isReadable}>
          Bring them in
        </button>
        <button type="button" className="press" onClick={close}>
          Cancel
        </button>
      </div>
    </form>
  );
}
