import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { api } from "../api/client";
import { moment } from "../base/times";
import { DecidedBy } from "./DecidedBy";

const MOST = 30;
const EVERY = 2_000;

/** What the gateways of the rulebase decided last, by their own word, as it comes in. */
export function NewestDecided({ base }: { base: string }) {
  const [paused, setPaused] = useState(false);
  const newest = useQuery({
    queryKey: ["decided", base],
    queryFn: () => api.decided(base, MOST),
    enabled: base !== "" && !paused,
    refetchInterval: EVERY,
  });
  if (!newest.data) return null;
  return (
    <section aria-labelledby="decided" className="border-edge border-b p-3 text-xs">
      <div className="flex items-center gap-3">
        <h2 id="decided" className="font-semibold text-sm">
          Live
        </h2>
        <button type="button" className="press" aria-pressed={paused} onClick={() => setPaused(!paused)}>
          {paused ? "Go on" : "Pause"}
        </button>
      </div>
      {newest.data.length === 0 && (
        <p className="text-dim">No gateway has told of a connection yet. Try one from a client, above.</p>
      )}
      <ol className="max-h-56 overflow-auto">
        {newest.data.map((one) => (
          <li key={one.number} className="border-edge border-b py-1">
            <span className="mr-2 text-dim">{moment(one.at)}</span>
            {one.probe || <i className="text-dim">A connection that its rule does not log.</i>}
            <span className="block pl-4">
              <DecidedBy decided={one} />
            </span>
          </li>
        ))}
      </ol>
    </section>
  );
}
