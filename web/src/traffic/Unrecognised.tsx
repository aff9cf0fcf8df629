import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { api, type Measure, type Sample } from "../api/client";
import { grouped } from "../base/grouped";
import { useAnswers, useOpenRulebase } from "../session/contexts";
import { ListRow } from "../workspace/ListRow";
import { SignatureEditor } from "./SignatureEditor";
import { amount, share, words } from "./units";
import { WriteRule } from "./WriteRule";

type Props = { measure: Measure };

/** What nobody recognised: what its connections showed, most frequent first; a signature is written beside it. */
export function Unrecognised({ measure }: Props) {
  const openRulebase = useOpenRulebase();
  const answers = useAnswers();
  const [open, setOpen] = useState<string>();
  /** Which of the samples that read the same is shown. */
  const [at, setAt] = useState(0);
  const answer = useQuery({
    queryKey: ["unrecognised", openRulebase.id, answers.hits?.state],
    queryFn: () => api.unrecognised(openRulebase.id),
    placeholderData: (before) => before,
  });
  if (!answer.data) return <p className="p-6 text-dim">Looking at the tapes …</p>;
  const { all, sum, samples, more } = answer.data;
  const rows = grouped(samples, rowOf);
  const alike = rows.find(([key]) => key === open)?.[1] ?? [];
  const sample = alike[Math.min(at, alike.length - 1)];
  return (
    <div className="flex min-h-0 flex-1">
      <div className="flex min-h-0 w-[300px] shrink-0 flex-col border-edge border-r">
        <p className="border-edge border-b bg-plate px-3 py-1.5 text-xs">
          <b>{words(amount(sum, measure), measure)}</b> of {words(amount(all, measure), measure)} (
          {share(amount(sum, measure), amount(all, measure))}) were not recognised, or only as the protocol
          they are inside of.
        </p>
        <ul aria-label="Not recognised" className="min-h-0 flex-1 overflow-auto bg-plate">
          {rows.map(([key, some]) => (
            <li key={key}>
              <ListRow
                isOpen={key === open}
                open={() => {
                  setOpen(key);
                  setAt(0);
                }}
                className="py-1 text-xs"
              >
                <span className="flex justify-between gap-2">
                  <b className="truncate">{titleOf(some[0])}</b>
                  <span className="shrink-0 text-dim">
                    {words(
                      some.reduce((sum, one) => sum + amount(one.sum, measure), 0),
                      measure,
                    )}
                  </span>
                </span>
                <span className="block truncate text-dim">
                  {some[0].service}, {some[0].recognised}, on{" "}
                  {[...new Set(some.map((one) => one.tape))].join(", ")}
                  {some.length > 1 && `, ${some.length} samples`}
                </span>
              </ListRow>
            </li>
          ))}
          {samples.length === 0 && (
            <p className="p-3 text-dim text-xs">
              Nothing: every connection of which something is known was recognised. Captures show more than
              tables do.
            </p>
          )}
          {more > 0 && <p className="px-3 py-1 text-dim text-xs">… and {more.toLocaleString("en")} more</p>}
        </ul>
      </div>
      {sample ? (
        <div className="flex min-h-0 min-w-0 flex-1 flex-col">
          {alike.length > 1 && (
            <p className="flex items-center gap-2 border-edge border-b px-3 py-1 text-xs">
              Sample {at + 1} of {alike.length} that read the same
              <button type="button" className="press" disabled={at === 0} onClick={() => setAt(at - 1)}>
                Previous
              </button>
              <button
                type="button"
                className="press"
                disabled={at >= alike.length - 1}
                onClick={() => setAt(at + 1)}
              >
                Next
              </button>
            </p>
          )}
          <div className="border-edge border-b px-3 py-2 text-xs">
            <WriteRule key={keyOf(sample)} line={{ probe: sample.probe, unsaid: [] }} />
          </div>
          <SignatureEditor key={keyOf(sample)} sample={sample} />
        </div>
      ) : (
        <p className="p-6 text-dim">Choose one to see what it showed, and to write a signature for it.</p>
      )}
    </div>
  );
}

/** What one sees of a sample in the list: samples that read the same stand in one row. */
export const rowOf = (sample: Sample) => [titleOf(sample), sample.service, sample.recognised].join("\n");

const keyOf = (sample: Sample) => `${sample.tape} ${sample.number}`;

/** What a sample is best known by: its host name, its request, or its first bytes. */
function titleOf(sample: Sample): string {
  if (sample.host) {
    const path = sample.facts.find((fact) => fact.field === "path");
    return sample.host + (path ? path.value : "");
  }
  const bytes = sample.facts.find((fact) => fact.field === "client bytes" || fact.field === "server bytes");
  return bytes?.text ? `“${bytes.text.slice(0, 24)}”` : sample.service;
}
