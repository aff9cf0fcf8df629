import { useState } from "react";
import type { PromiseCheck, Step } from "../api/client";
import { goTo } from "../base/address";
import { Fault } from "../base/Fault";
import { LoadFile } from "../base/LoadFile";
import { Term } from "../base/Term";
import { Plate } from "../rules/Plate";
import { useAnswers, useEditing, useOpenRulebase } from "../session/contexts";
import { useSend } from "../session/useSend";

/** The promises by group, broken ones first: what each one says, and what became of it. */
export function PromisesPage() {
  const answers = useAnswers();
  const openRulebase = useOpenRulebase();
  const edits = useEditing();
  const { fault, note, attempt, send } = useSend();
  const promises = answers.promises ?? [];
  const groups = [
    ...new Set([...promises.filter((promise) => !promise.kept), ...promises].map((promise) => promise.group)),
  ];
  const broken = promises.filter((promise) => !promise.kept).length;
  const save = (what: string, step: Step) => send(what, [step]);
  return (
    <div className="min-h-0 flex-1 overflow-auto">
      <div className="flex items-center gap-3 border-edge border-b bg-plate px-3 py-2">
        <p>
          <b>{promises.length}</b> <Term word="promise">promises</Term>,{" "}
          {broken === 0 ? "all kept" : <b className="text-rust">{broken} broken</b>}. They run after every
          edit. To make one, run a probe and press Promise.
        </p>
        <a
          className="press ml-auto"
          href={`/api/rulebases/${openRulebase.id}/promises/csv`}
          download="promises.csv"
        >
          Save as CSV
        </a>
        <LoadFile
          label="Load CSV"
          what="A CSV file of promises"
          load={(_, text) => attempt(edits.loadPromises(text))}
        />
      </div>
      <div className="px-3">
        <Fault fault={fault} />
        {note && <p role="status">{note}</p>}
      </div>
      {answers.promises && promises.length === 0 && (
        <p className="p-4 text-dim">
          Nothing is promised yet. Run a probe on the rulebase and press Promise beside it.
        </p>
      )}
      {groups.map((group) => (
        <section key={group} className="px-3 pt-3">
          <h2 className="mb-1 font-semibold text-dim text-xs">{group || "without a group"}</h2>
          {promises
            .filter((promise) => promise.group === group)
            .sort((a, b) => Number(a.kept) - Number(b.kept))
            .map((promise) => (
              <PromiseRow key={promise.id} promise={promise} save={save} />
            ))}
        </section>
      ))}
    </div>
  );
}

type RowProps = { promise: PromiseCheck; save: (what: string, step: Step) => void };

function PromiseRow({ promise, save }: RowProps) {
  const openRulebase = useOpenRulebase();
  const [name, setName] = useState(promise.name);
  const [group, setGroup] = useState(promise.group);
  const { named } = openRulebase;
  const changed = name !== promise.name || group !== promise.group;
  return (
    <div
      className={`mb-1 rounded border px-2 py-1 ${promise.kept ? "border-edge bg-plate" : "border-rust bg-rust-wash"}`}
    >
      <div className="flex items-center gap-3">
        <input
          aria-label="Name of the promise"
          value={name}
          onChange={(event) => setName(event.target.value)}
          className="min-w-0 flex-1 bg-transparent font-medium"
        />
        <input
          aria-label="Group of the promise"
          placeholder="group"
          value={group}
          onChange={(event) => setGroup(event.target.value)}
          className="w-36 bg-transparent text-dim placeholder:text-faint"
        />
        {changed && (
          <button
            type="button"
            className="press press-main text-xs"
            onClick={() =>
              save(`renamed promise “${promise.name}”`, {
                op: "SAVE_PROMISE",
                id: promise.id,
                promise: { name, group },
              })
            }
          >
            Save
          </button>
        )}
        <button
          type="button"
          className="press text-xs"
          onClick={() => goTo({ page: "rulebase", rule: undefined, find: undefined, probe: promise.probe })}
        >
          Try it
        </button>
        <button
          type="button"
          className="press text-xs"
          onClick={() => save(`removed promise “${promise.name}”`, { op: "REMOVE_PROMISE", id: promise.id })}
        >
          Remove
        </button>
      </div>
      <p className="flex flex-wrap items-center gap-x-3 text-xs">
        <span className="flex items-center gap-1">
          must get <Plate verdict={promise.verdict} />
          {promise.catcher && <span className="text-dim">from {named(promise.catcher)}</span>}
        </span>
        {promise.kept ? (
          <span className="text-dim">kept, by {named(promise.caughtBy)}</span>
        ) : (
          <span className="flex items-center gap-1 font-medium text-rust">
            broken: {promise.trouble || "gets"} {promise.now && <Plate verdict={promise.now} />}{" "}
            {promise.now && `from ${named(promise.caughtBy)}`}
          </span>
        )}
      </p>
      <p className="text-dim text-xs">{promise.probe}</p>
    </div>
  );
}
