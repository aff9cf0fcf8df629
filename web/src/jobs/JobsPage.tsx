import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { ApiError, api, type FailedJob, type Job } from "../api/client";
import { Fault } from "../base/Fault";
import { ProgressBar } from "../base/ProgressBar";
import { moment } from "../base/times";

const LOOKED = 1_500;

/** What the server is working on, for whom and how far; what has failed; and the way to cancel. */
export function JobsPage({ who }: { who: string }) {
  const client = useQueryClient();
  const [fault, setFault] = useState("");
  const jobs = useQuery({ queryKey: ["jobs"], queryFn: api.jobs, refetchInterval: LOOKED });
  if (!jobs.data) return <p className="p-6 text-dim">Looking what is going on …</p>;
  const { running, failed, failures } = jobs.data;
  const cancel = (job: Job) =>
    api
      .cancelJob(job.id, who)
      .then(
        () => setFault(""),
        // What has ended meanwhile needs no cancelling.
        (error) =>
          setFault(error instanceof ApiError && error.problem.status === 404 ? "" : String(error.message)),
      )
      .finally(() => client.invalidateQueries({ queryKey: ["jobs"] }));
  return (
    <div className="min-h-0 flex-1 overflow-y-auto p-4">
      <div className="mx-auto flex max-w-4xl flex-col gap-5">
        <section aria-label="Running" className="flex flex-col gap-2">
          <h2 className="font-semibold">
            Running <span className="font-normal text-dim">on the server that answers this page</span>{" "}
            <button type="button" className="press text-xs" onClick={() => jobs.refetch()}>
              Look again
            </button>
          </h2>
          <Fault fault={fault} />
          {running.length === 0 && <p className="text-dim">Nothing takes long at the moment.</p>}
          <ul className="flex flex-col gap-1">
            {running.map((job) => (
              <Row key={job.id} job={job} cancel={() => cancel(job)} />
            ))}
          </ul>
        </section>
        <section aria-label="Failed" className="flex flex-col gap-2">
          <h2 className="font-semibold">
            Failed{" "}
            <span className="font-normal text-dim">
              {failures === 0
                ? "nothing since the server was started"
                : `${failures} since the server was started; the newest first, the causes stand in its log`}
            </span>
          </h2>
          <ul className="flex flex-col gap-1">
            {failed.map((one) => (
              <FailedRow key={`${one.at} ${one.what}`} one={one} />
            ))}
          </ul>
        </section>
      </div>
    </div>
  );
}

function Row({ job, cancel }: { job: Job; cancel: () => void }) {
  return (
    <li className="flex items-center gap-3 rounded border border-edge bg-plate px-3 py-1.5">
      <span className="min-w-0 flex-1 truncate">
        <b>{job.what}</b>
        {job.doing && <span className="text-dim">: {job.doing}</span>}
      </span>
      <ProgressBar label={job.doing} done={job.done} total={job.total} />
      <span className="shrink-0 text-dim text-xs">
        {job.kind}, {job.owner ? `for ${job.owner}` : "by itself"}, since {moment(job.begun)}
      </span>
      {job.cancellable && (
        <button type="button" className="press text-xs" aria-label={`Cancel ${job.what}`} onClick={cancel}>
          Cancel
        </button>
      )}
    </li>
  );
}

function FailedRow({ one }: { one: FailedJob }) {
  return (
    <li className="rounded border border-edge bg-plate px-3 py-1.5">
      <p>
        <b>{one.what}</b> <span className="text-dim text-xs">{moment(one.at)}</span>
      </p>
      <p className="text-madder text-xs">{one.why}</p>
    </li>
  );
}
