import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { api, type Measure, type Sample } from "../api/client";
import type { Session } from "../session/useSession";
import { ListRow } from "../workspace/ListRow";
import { SignatureEditor } from "./SignatureEditor";
import { amount, share, words } from "./units";

type Props = { session: Session; measure: Measure };

/** What nobody recognised: what its connections showed, most frequent first; a signature is written beside it. */
export function Unrecognised({ session, measure }: Props) {
  const [open, setOpen] = useState<string>();
  const answer = useQuery({
    queryKey: ["unrecognised", session.id, session.hits?.state],
    queryFn: () => api.unrecognised(session.id),
    placeholderData: (before) => before,
  });
  if (!answer.data) return <p className="p-6 text-dim">Looking at the tapes …</p>;
  const { all, sum, samples, more } = answer.data;
  const sample = samples.find((one) => keyOf(one) === open);
  return (
    <div className="flex min-h-0 flex-1">
      <div className="flex min-h-0 w-[300px] shrink-0 flex-col border-edge border-r">
        <p className="border-edge border-b bg-plate px-3 py-1.5 text-xs">
          <b>{words(amount(sum, measure), measure)}</b> of {words(amount(all, measure), measure)} (
          {share(amount(sum, measure), amount(all, measure))}) were not recognised, or only as the protocol
          they are inside of.
        </p>
        <ul aria-label="Not recognised" className="min-h-0 flex-1 overflow-auto bg-plate">
          {samples.map((one) => (
            <li key={keyOf(one)}>
              <ListRow isOpen={keyOf(one) === open} open={() => setOpen(keyOf(one))} className="py-1 text-xs">
                <span className="flex justify-between gap-2">
                  <b className="truncate">{titleOf(one)}</b>
                  <span className="shrink-0 text-dim">{words(amount(one.sum, measure), measure)}</span>
                </span>
                <span className="block truncate text-dim">
                  {one.service}, {one.recognised}, on {one.tape}
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
        <SignatureEditor key={keyOf(sample)} session={session} sample={sample} />
      ) : (
        <p className="p-6 text-dim">Choose one to see what it showed, and to write a signature for it.</p>
      )}
    </div>
  );
}

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
