import { useQuery } from "@tanstack/react-query";
import { ApiError, api, type Source } from "../api/client";
import { goTo } from "../base/address";
import { PendingAnswer } from "../base/PendingAnswer";
import { moment } from "../base/times";
import type { useWorkspaceChange } from "../workspace/useWorkspace";
import { ImpactOnAll } from "../workspace/WorkspaceImpact";
import { Folded } from "./Folded";
import { state } from "./SourcesPage";

type Props = { source: Source; who: string; change: ReturnType<typeof useWorkspaceChange> };

/** What a source has now: read again by a button, and what came is used or ignored, its impact first. */
export function SourceNow({ source, who, change }: Props) {
  const { name, waiting } = source;
  const done = (what: string, work: () => Promise<unknown>) => change.tried(what, work);
  return (
    <section aria-label={`${name} now`} className="flex flex-col gap-2 border-paper-edge border-b p-4">
      <p className="flex flex-wrap items-center gap-2">
        <span className={source.problem ? "text-madder" : ""}>{state(source)}</span>
        <button
          type="button"
          className={`press ml-auto ${waiting === 0 ? "press-main" : ""}`}
          onClick={() => done(`read ${name}`, () => api.syncSource(who, name))}
        >
          Read it now
        </button>
      </p>
      {source.waitingWhy && <p className="text-madder text-xs">It stopped: {source.waitingWhy}.</p>}
      {waiting > 0 && (
        <>
          <Waiting source={source} />
          <p className="flex gap-2">
            <button
              type="button"
              className="press press-main"
              onClick={() => done(`took what ${name} has now`, () => api.adoptSource(who, name))}
            >
              Use it
            </button>
            <button
              type="button"
              className="press"
              onClick={() => done(`ignored what ${name} brought`, () => api.dropSource(who, name))}
            >
              {source.kind === "catalogue editions" ? "Ignore this edition" : "Ignore it"}
            </button>
          </p>
        </>
      )}
      {source.told && source.kind === "catalogue editions" && (
        <button type="button" className="press self-start" onClick={() => goTo({ page: "catalogue" })}>
          To the catalogue
        </button>
      )}
      <Folded title="Left out" lines={source.leftOut} />
      <Folded
        title="Resolved"
        lines={Object.entries(source.resolved).map(([host, at]) => `${host}, at ${moment(at)}`)}
      />
    </section>
  );
}

/** What waits of a source, in words, and what taking it would do to every rulebase. */
function Waiting({ source }: { source: Source }) {
  const waiting = useQuery({
    queryKey: ["waiting", source.name, source.waitingSince],
    queryFn: () => api.waitingOf(source.name),
    retry: false,
  });
  if (waiting.error instanceof ApiError)
    return <p className="text-madder text-xs">{waiting.error.problem.detail}</p>;
  if (!waiting.data) return <PendingAnswer query={waiting} what="what it does to every rulebase" />;
  return (
    <>
      <ImpactOnAll impact={waiting.data.impact} />
      <Folded title="What changes" lines={waiting.data.changes} />
    </>
  );
}
