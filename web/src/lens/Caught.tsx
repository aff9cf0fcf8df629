import { useQuery } from "@tanstack/react-query";
import { api } from "../api/client";
import { goTo } from "../base/address";
import { DRAFT_FROM_PROBE } from "../probe/Answer";
import { useAnswers, useOpenRulebase } from "../session/contexts";

type Props = {
  /** A rule's id; without one, what fell on the default verdict. */
  rule?: string;
  most: number;
  drop: (probe: string) => void;
};

/** The recorded connections that fall on a rule, the most frequent first; a click drops one as a probe. */
export function Caught({ rule, most, drop }: Props) {
  const openRulebase = useOpenRulebase();
  const answers = useAnswers();
  const caught = useQuery({
    queryKey: ["caught", openRulebase.id, rule, answers.hits?.state],
    queryFn: () => api.caught(openRulebase.id, rule),
    placeholderData: (before, query) => (query?.queryKey[2] === rule ? before : undefined),
  });
  if (!caught.data) return <p className="text-dim text-xs">Looking at the tapes …</p>;
  const { lines, more } = caught.data;
  if (lines.length === 0) return <p className="text-dim text-xs">Nothing on the tapes falls on it.</p>;
  const left = lines.length - most + more;
  return (
    <>
      <ul>
        {lines.slice(0, most).map((line) => (
          <li key={line.probe} className="flex items-start gap-1">
            <button
              type="button"
              title="Run it as a probe"
              onClick={() => drop(line.probe)}
              className="grid min-w-0 flex-1 grid-cols-[52px_minmax(0,1fr)] gap-2 rounded px-1 py-0.5 text-left text-xs hover:bg-paper"
            >
              <span className="text-right font-medium">{line.times.toLocaleString("en")}×</span>
              <span className="text-dim">{line.probe}</span>
            </button>
            <button
              type="button"
              title="Draft a rule about this connection, above the one that catches it now"
              aria-label={`Write a rule: ${line.probe}`}
              onClick={() =>
                goTo({
                  page: "rulebase",
                  rule: undefined,
                  find: undefined,
                  probe: line.probe,
                  draft: DRAFT_FROM_PROBE,
                })
              }
              className="press shrink-0 text-xs"
            >
              Write a rule
            </button>
          </li>
        ))}
      </ul>
      {left > 0 && (
        <p className="pl-1 text-dim text-xs">… and {left.toLocaleString("en")} more kinds of connections</p>
      )}
    </>
  );
}
