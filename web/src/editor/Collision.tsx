import { useState } from "react";
import type { ProblemDocument, Rule } from "../api/client";
import { since } from "../session/useContexts";
import { type Conflict, conflicts, type Draft, draftOf } from "./draft";

type Props = {
  problem: ProblemDocument;
  before: Draft;
  mine: Draft;
  /** The rule as it says now; nothing while that is asked for, null if it was removed. */
  now: Rule | null | undefined;
  /** Saves a draft on top of what the other one saved. */
  save: (draft: Draft) => void;
  discard: () => void;
};

/** Somebody was quicker: what both changed differently, side by side, for the second to choose. */
export function Collision({ problem, before, mine, now, save, discard }: Props) {
  const [chosen, setChosen] = useState<Record<string, "mine" | "theirs">>({});
  const clash: Conflict[] = now ? conflicts(before, mine, draftOf(now)) : [];
  const open = clash.filter(({ label }) => !chosen[label]);
  const merged = clash.reduce(
    (draft, { label, take }) => (chosen[label] === "theirs" ? take(draft) : draft),
    mine,
  );
  return (
    <>
      <strong>{problem.title}.</strong> {since(problem.since ?? [])}. Your changes are still here.{" "}
      {now === undefined && "Comparing with the newest revision … "}
      {now === null && "The rule was removed there. "}
      {now && clash.length === 0 && "No field of this rule was changed by both of you. "}
      {clash.length > 0 && (
        <table className="my-1">
          <caption className="text-left">Changed by both of you; choose for each:</caption>
          <tbody>
            {clash.map(({ label, mine: own, theirs }) => (
              <tr key={label}>
                <th scope="row" className="pr-2 text-left">
                  {label}
                </th>
                {(["theirs", "mine"] as const).map((side) => (
                  <td key={side} className="pr-2">
                    <label>
                      <input
                        type="radio"
                        name={`${label} of whom`}
                        checked={chosen[label] === side}
                        onChange={() => setChosen({ ...chosen, [label]: side })}
                      />{" "}
                      {side}: {side === "mine" ? own : theirs}
                    </label>
                  </td>
                ))}
              </tr>
            ))}
          </tbody>
        </table>
      )}
      <button
        type="button"
        className="press press-main"
        disabled={!now || open.length > 0}
        onClick={() => save(merged)}
      >
        {clash.length > 0 ? "Save what is chosen" : "Save mine too"}
      </button>{" "}
      <button type="button" className="press" onClick={discard}>
        Discard mine
      </button>
    </>
  );
}
