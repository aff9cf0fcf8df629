import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { api, type Replay } from "../api/client";
import { Fault } from "../base/Fault";
import { moment } from "../base/times";
import { useOpenRulebase } from "../session/contexts";
import { useSend } from "../session/useSend";
import { bytes } from "./units";

type Props = { opened?: number; open: (number?: number) => void };

/** Traffic too large for a tape: files beside the server are dropped through the rulebase behind, and the sums are kept. */
export function Replays({ opened, open }: Props) {
  const openRulebase = useOpenRulebase();
  const client = useQueryClient();
  const { fault, attempt } = useSend();
  const [isAsking, setAsking] = useState(false);
  const key = ["replays", openRulebase.id];
  const answer = useQuery({
    queryKey: key,
    queryFn: () => api.replays(openRulebase.id),
    // Another window or person may begin one; while one runs its progress is looked at often.
    refetchInterval: (query) =>
      query.state.data?.replays.some((one) => one.standing === "running") ? 1000 : 15_000,
  });
  const { data } = answer;
  if (!data || (!data.isPossible && data.replays.length === 0)) return null;
  const remove = async (one: Replay) => {
    if (one.number === opened) open(undefined);
    await attempt(
      api.removeReplay(openRulebase.id, one.number).then((left) => client.setQueryData(key, left)),
    );
  };
  return (
    <section aria-label="Replays" className="border-edge border-b px-3 py-2 text-xs">
      <h3 className="flex items-center justify-between font-medium">
        Replays
        {!isAsking && data.isPossible && (
          <button type="button" className="press font-normal text-xs" onClick={() => setAsking(true)}>
            Replay files
          </button>
        )}
      </h3>
      <p className="text-dim">Files beside the server, of any size, through the rulebase.</p>
      {isAsking && (
        <Ask
          cancel={() => setAsking(false)}
          begin={async (source, against) => {
            const begun = await attempt(
              api.beginReplay(openRulebase.id, openRulebase.who, { source, against }),
            );
            if (begun) setAsking(false);
            await client.invalidateQueries({ queryKey: key });
          }}
        />
      )}
      <Fault fault={fault} />
      <ul>
        {data.replays.map((one) => (
          <li key={one.number} className="mt-2" aria-label={`Replay ${one.number}`}>
            <p>
              <b className="font-medium">{one.source}</b> by revision {one.revision}
              {one.against !== undefined && one.against !== null && `, compared with ${one.against}`}
            </p>
            <Standing one={one} />
            <span className="mt-1 flex gap-1">
              {one.standing === "done" && (
                <button
                  type="button"
                  className="press text-xs"
                  aria-pressed={opened === one.number}
                  onClick={() => open(opened === one.number ? undefined : one.number)}
                >
                  {opened === one.number ? "Close" : "Open"}
                </button>
              )}
              <button type="button" className="press text-xs" onClick={() => remove(one)}>
                {one.standing === "running" ? "Stop" : "Remove"}
              </button>
            </span>
          </li>
        ))}
      </ul>
    </section>
  );
}

/** How far one is, or how it ended. */
function Standing({ one }: { one: Replay }) {
  if (one.standing === "running" && one.total === 0)
    return (
      <p role="status" className="text-dim">
        starting, for {one.who} …
      </p>
    );
  if (one.standing === "running")
    return (
      <div role="status" className="text-dim">
        {one.done} of {one.total} parts so far, for {one.who}
        <progress
          aria-label={`How far replay ${one.number} is`}
          className="mt-0.5 block h-1.5 w-full accent-rust"
          max={one.total}
          value={one.done}
        />
      </div>
    );
  if (one.standing === "failed") return <p className="text-rust">It failed: {one.why}</p>;
  return (
    <p className="text-dim">
      {moment(one.begun)} by {one.who}
      {one.why && <span className="text-rust"> – {one.why}</span>}
    </p>
  );
}

type AskProps = {
  begin: (source: string, against?: number) => void;
  cancel: () => void;
};

/** What to replay, and whether to compare with an older revision. */
function Ask({ begin, cancel }: AskProps) {
  const openRulebase = useOpenRulebase();
  const found = useQuery({
    queryKey: ["replay sources", openRulebase.id],
    queryFn: () => api.replaySources(openRulebase.id),
    // Somebody may have put another file there.
    gcTime: 0,
  });
  const sources = found.data ?? [];
  const [chosen, setSource] = useState<string>();
  const source = chosen ?? sources[0]?.path ?? "";
  const [against, setAgainst] = useState("");
  const newest = openRulebase.rulebase?.revision ?? 0;
  return (
    <form
      aria-label="Replay files"
      className="mt-1 flex flex-col gap-1"
      onSubmit={(event) => {
        event.preventDefault();
        begin(source, against === "" ? undefined : Number(against));
      }}
    >
      {found.error && <p className="text-rust">{found.error.message}</p>}
      {found.data?.length === 0 && <p className="text-dim">There is nothing in the server's folder yet.</p>}
      <select
        aria-label="What to replay"
        value={source}
        onChange={(event) => setSource(event.target.value)}
        className="field w-full"
      >
        {sources.map((one) => (
          <option key={one.path} value={one.path}>
            {one.isFolder ? `${one.path}/ (all in it)` : one.path}, {bytes(one.bytes)}
          </option>
        ))}
      </select>
      <label className="flex items-center gap-1">
        compare with revision
        <input
          aria-label="The revision to compare with"
          inputMode="numeric"
          placeholder={newest > 0 ? String(newest - 1) : "none"}
          value={against}
          onChange={(event) => setAgainst(event.target.value.replace(/\D/g, ""))}
          className="field w-16"
        />
      </label>
      <span className="flex gap-1">
        <button type="submit" className="press press-main text-xs" disabled={source === ""}>
          Start
        </button>
        <button type="button" className="press text-xs" onClick={cancel}>
          Cancel
        </button>
      </span>
    </form>
  );
}
