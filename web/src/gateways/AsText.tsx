import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { ApiError, api, type Card } from "../api/client";
import { goTo } from "../base/address";
import { LoadFile } from "../base/LoadFile";
import { useSettled } from "../base/useSettled";
import { ImpactText } from "../impact/ImpactText";
import type { useWorkspaceChange } from "../workspace/useWorkspace";

type Props = { who: string; card: Card; change: ReturnType<typeof useWorkspaceChange>; close: () => void };

/** A whole rulebase as text: read, changed or put in place of what is there, with what that does before it is saved. */
export function AsText({ who, card, change, close }: Props) {
  // What is being written was begun on this revision; a newer one is told when it is saved.
  const [seen] = useState(card.revision);
  const now = useQuery({
    queryKey: ["text", card.id, seen],
    queryFn: () => api.rulebaseText(card.id),
    staleTime: Number.POSITIVE_INFINITY,
  });
  const [written, setWritten] = useState<string>();
  const text = written ?? now.data ?? "";
  const isOther = written !== undefined && written !== now.data;
  const settled = useSettled(text, 400) ?? "";
  const told = useQuery({
    queryKey: ["replacement", card.id, seen, settled],
    queryFn: ({ signal }) => api.replacement(card.id, seen, settled, signal),
    enabled: isOther && settled !== "" && settled === text,
    retry: false,
    placeholderData: keepPreviousData,
  });
  const refused = told.error instanceof ApiError ? told.error.problem.detail : "";
  const save = () =>
    change
      .tried(`replaced ${card.name} by a text`, () => api.replace(card.id, who, seen, text))
      .then((done) => {
        if (done)
          goTo({ page: "rulebase", base: card.id, rule: undefined, probe: undefined, find: undefined });
      });
  return (
    <form
      aria-label={`${card.name} as text`}
      className="flex min-w-0 flex-1 flex-col gap-2 overflow-auto bg-paper p-4"
      onSubmit={(event) => {
        event.preventDefault();
        save();
      }}
    >
      <h2 className="flex items-center gap-3 font-semibold">
        {card.name} as text
        <LoadFile
          label="Load a file in its place"
          what="A rulebase to put in its place"
          accept=".rules,.txt,.json,.csv,text/*,application/json"
          load={(_, read) => setWritten(read)}
        />
      </h2>
      <textarea
        aria-label="All of the rulebase"
        value={text}
        spellCheck={false}
        rows={22}
        onChange={(event) => setWritten(event.target.value)}
        className="rounded border border-paper-edge bg-ground/40 p-2 font-mono text-xs"
      />
      {!isOther && <p className="text-dim text-xs">Nothing is changed yet.</p>}
      {isOther && refused && (
        <p role="alert" className="text-madder text-xs">
          {refused}
        </p>
      )}
      {isOther && !refused && told.data && (
        <section aria-label="What this would do" className="text-xs">
          <p className="font-medium">
            {rulesWord(told.data.added, "added")}; {rulesWord(told.data.removed, "removed")};{" "}
            {rulesWord(told.data.changed, "changed or moved")}.
          </p>
          <ImpactText
            impact={told.data.impact}
            tense="would be"
            named={(rule) => (rule ? `rule ${rule}` : "the default verdict")}
            drop={(probe) => goTo({ page: "rulebase", base: card.id, probe, find: undefined })}
          />
        </section>
      )}
      <div className="flex gap-2">
        <button type="submit" className="press press-main" disabled={!isOther || !!refused || !told.data}>
          Put it in place
        </button>
        <button type="button" className="press" onClick={close}>
          Close
        </button>
      </div>
    </form>
  );
}

const FEW = 4;

function rulesWord(names: string[], what: string): string {
  if (names.length === 0) return `no rule ${what}`;
  const some = names.slice(0, FEW).join(", ");
  return `${names.length} ${what}: ${some}${names.length > FEW ? " …" : ""}`;
}
