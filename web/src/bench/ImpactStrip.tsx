import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { ApiError, api, type ImpactKind, type Step } from "../api/client";
import type { Place } from "./order";
import { Plate } from "./Plate";

type Props = {
  rulebase: string;
  revision: number;
  steps: Step[];
  named: (rule: string) => string;
  /** Drops a witness of one kind. */
  drop: (probe: string) => void;
  /** Puts a rule that is being added where it stands better. */
  onPlace?: (place: Place) => void;
};

/** What some steps would change, worked out before they are taken: which connections, from what to what. */
export function ImpactStrip({ rulebase, revision, steps, named, drop, onPlace }: Props) {
  const settled = useSettled(JSON.stringify(steps), 250);
  const asked: Step[] = JSON.parse(settled);
  const client = useQueryClient();
  const key = ["impact", rulebase, revision, settled];
  const impact = useQuery({
    queryKey: key,
    // What is no longer asked is no longer waited for.
    queryFn: ({ signal }) => api.impact(rulebase, asked, signal),
    enabled: asked.length > 0,
    retry: false,
    placeholderData: (before) => before,
  });
  if (asked.length === 0) return <p className="text-dim text-xs">Nothing is changed yet.</p>;
  if (impact.error instanceof ApiError) {
    return (
      <p className="text-madder text-xs">The impact cannot be worked out: {impact.error.problem.detail}</p>
    );
  }
  if (!impact.data && impact.isFetching) {
    return (
      <p className="text-dim text-xs">
        Working out the impact …{" "}
        <button
          type="button"
          className="press text-xs"
          onClick={() => client.cancelQueries({ queryKey: key })}
        >
          Stop
        </button>
      </p>
    );
  }
  if (!impact.data) {
    return (
      <p className="text-dim text-xs">
        The impact was not worked out.{" "}
        <button type="button" className="press text-xs" onClick={() => impact.refetch()}>
          Work it out
        </button>
      </p>
    );
  }
  const { kinds, complete, ended, begun, broken, better } = impact.data;
  return (
    <div className="text-xs" data-impact={kinds.length}>
      <p className="font-medium">
        {kinds.length === 0
          ? "No connection would be decided otherwise."
          : `${kinds.length} ${kinds.length === 1 ? "kind" : "kinds"} of connections would be decided otherwise${complete ? "" : ", and perhaps more: working it all out took too long"}.`}
        {ended.length > 0 && ` ${ended.length} ${ended.length === 1 ? "finding ends" : "findings end"}.`}
        {begun.length > 0 &&
          ` New: ${begun.map((notice) => `${named(notice.rule)} ${notice.kind}`).join(", ")}.`}
      </p>
      {better && onPlace && (
        <p className="font-medium text-rust">
          {better.side === "above" ? "Better above " : "Better below "}
          {named(better.rule)}
          {better.said.at(-1)?.text}{" "}
          <button
            type="button"
            data-better
            title="Alt Enter"
            className="press press-main text-xs"
            onClick={() =>
              onPlace(better.side === "above" ? { before: better.rule } : { after: better.rule })
            }
          >
            Put it there
          </button>
        </p>
      )}
      {broken.length > 0 && (
        <p className="font-medium text-madder">
          Breaks {broken.length === 1 ? "a promise" : `${broken.length} promises`}: {broken.join(", ")}.
        </p>
      )}
      {kinds.map((kind) => (
        <Kind key={kind.probe + kind.after.verdict} kind={kind} drop={drop} />
      ))}
    </div>
  );
}

/** One kind of connection that would be decided otherwise. */
export function Kind({ kind, drop }: { kind: ImpactKind; drop: (probe: string) => void }) {
  return (
    <p className="mt-1 border-paper-edge border-t pt-1">
      <span className="inline-flex items-center gap-1.5 align-middle">
        <Plate verdict={kind.before.verdict} /> <span aria-hidden="true">→</span>
        <span className="sr-only">becomes</span> <Plate verdict={kind.after.verdict} />
      </span>{" "}
      {kind.after.outcome !== kind.after.verdict && <b>{kind.after.outcome} </b>}
      {kind.before.outcome !== kind.before.verdict && (
        <span className="text-dim">was {kind.before.outcome} </span>
      )}
      {kind.words.length === 0 && "everything else "}
      {kind.words.map((words) => (
        <span key={words.part}>
          <span className="text-dim">{words.part}</span> {words.text}{" "}
        </span>
      ))}
      <button type="button" className="text-rust underline" onClick={() => drop(kind.probe)}>
        drop one
      </button>
    </p>
  );
}

/** A value once it has stayed the same for a while, so that typing does not ask at every key. */
function useSettled<T>(value: T, millis: number): T {
  const [settled, setSettled] = useState(value);
  useEffect(() => {
    const timer = setTimeout(() => setSettled(value), millis);
    return () => clearTimeout(timer);
  }, [value, millis]);
  return settled;
}
