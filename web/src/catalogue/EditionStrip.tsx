import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { ApiError, api } from "../api/client";
import { goTo } from "../base/address";
import { Fault } from "../base/Fault";
import { LoadFile } from "../base/LoadFile";
import { Broken, Kind, kindsWord } from "../impact/ImpactText";
import { useOpenRulebase } from "../session/contexts";
import { useSend } from "../session/useSend";
import { useWorkspace } from "../workspace/useWorkspace";
import { WorkspaceImpact } from "../workspace/WorkspaceImpact";

/** Editions of the catalogue that are there but not in force, and what each would change before it is adopted. */
export function EditionStrip() {
  const openRulebase = useOpenRulebase();
  const client = useQueryClient();
  const editions = useQuery({ queryKey: ["editions"], queryFn: api.editions });
  const [looking, setLooking] = useState<number>();
  const { fault, attempt } = useSend();
  const impact = useQuery({
    queryKey: ["edition", openRulebase.id, openRulebase.state, looking, editions.data?.inForce],
    queryFn: () => api.edition(openRulebase.id, looking ?? 0),
    enabled: looking !== undefined,
    retry: false,
  });
  const others = (editions.data?.editions ?? []).filter((edition) => edition !== editions.data?.inForce);
  const workspace = useWorkspace(openRulebase.who);
  const adopt = async (edition: number) => {
    if (!(await attempt(api.adopt(edition, openRulebase.who)))) return;
    setLooking(undefined);
    client.invalidateQueries();
  };
  return (
    <section
      aria-label="Editions"
      className="max-h-[45%] overflow-auto border-edge border-b bg-paper px-3 py-2"
    >
      <p className="flex items-center gap-2">
        {editions.data?.inForce ? `Edition ${editions.data.inForce} is in force.` : "No edition is in force."}
        {others.map((edition) => (
          <button
            key={edition}
            type="button"
            className="press text-xs"
            aria-expanded={looking === edition}
            onClick={() => setLooking(looking === edition ? undefined : edition)}
          >
            What would edition {edition} change?
          </button>
        ))}
        <span className="ml-auto">
          <LoadFile
            label="Load an edition"
            what="An edition of the catalogue as CSV"
            load={(name, csv) => {
              const known = editions.data?.editions ?? [];
              const number = Number(name.match(/\d+/)?.[0] ?? Math.max(0, ...known) + 1);
              attempt(api.loadEdition(number, openRulebase.who, csv)).then((loaded) => {
                client.invalidateQueries({ queryKey: ["editions"] });
                if (loaded) setLooking(number);
              });
            }}
          />
        </span>
      </p>
      <Fault fault={fault} />
      {looking !== undefined && impact.isLoading && <p className="text-dim text-xs">Working it out …</p>}
      {looking !== undefined && impact.error instanceof ApiError && (
        <p className="text-madder text-xs">{impact.error.problem.detail}</p>
      )}
      {looking !== undefined && impact.data && (
        <div className="mt-1 text-xs">
          <ul className="mb-2 columns-2">
            {impact.data.changes.map((change) => (
              <li key={change.application}>
                <b>{change.application}</b> <span className="text-dim">{change.kind}</span>:{" "}
                {change.words.join("; ")}
              </li>
            ))}
          </ul>
          {impact.data.clashes.map((clash) => (
            <p key={clash} className="text-rust">
              Cannot be told apart: {clash}
            </p>
          ))}
          {impact.data.unknown.length > 0 && (
            <p className="text-madder">
              Rules name what would be gone, and would go on without it: {impact.data.unknown.join("; ")}
            </p>
          )}
          <Broken broken={impact.data.broken} tense="would be" />
          <p className="font-medium">
            {kindsWord(
              impact.data,
              "would be",
              "ports or carriers change too, or working it all out took too long",
            )}
          </p>
          {impact.data.kinds.map((kind) => (
            <Kind
              key={kind.probe + kind.after.outcome}
              kind={kind}
              drop={(probe) => goTo({ page: "rulebase", probe, find: undefined })}
            />
          ))}
          {openRulebase.heads.length > 1 && workspace.data && (
            <WorkspaceImpact
              version={workspace.data.version}
              steps={[{ op: "PUT", kind: "edition", doc: { number: looking } }]}
            />
          )}
          <button type="button" className="press press-main mt-2" onClick={() => adopt(looking)}>
            Adopt edition {looking}
          </button>
        </div>
      )}
    </section>
  );
}
