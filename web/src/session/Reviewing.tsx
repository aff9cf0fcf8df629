import { useQuery } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { api } from "../api/client";
import { ProgressBar } from "../app/ProgressBar";
import type { Session } from "./useSession";

/** A wait shorter than this needs no bar. */
const PATIENCE = 400;

type Props = {
  session: Pick<
    Session,
    "id" | "said" | "keeping" | "reviewing" | "reviewStopped" | "stopReview" | "reviewAnew"
  >;
};

/** What happened last, and whether it is kept; while a review takes long, how far it is, and the way to stop it. */
export function Reviewing({ session }: Props) {
  const [long, setLong] = useState(false);
  useEffect(() => {
    if (!session.reviewing) return setLong(false);
    const timer = setTimeout(() => setLong(true), PATIENCE);
    return () => clearTimeout(timer);
  }, [session.reviewing]);
  const progress = useQuery({
    queryKey: ["progress", session.id],
    queryFn: () => api.progress(session.id),
    enabled: long,
    refetchInterval: 250,
    gcTime: 0,
  });
  const { done, total } = (long && progress.data) || { done: 0, total: 0 };
  return (
    <span className="flex min-w-0 items-center gap-2 text-dim text-xs">
      <span className="truncate" role="status" aria-label="What happened">
        {session.reviewing ? "Reviewing …" : session.said}
      </span>
      {session.keeping && (
        <span className="late shrink-0 text-rust">what you did last is not kept yet …</span>
      )}
      <ProgressBar label="Rules reviewed" done={done} total={total} />
      {long && (
        <button type="button" className="press text-xs" onClick={session.stopReview}>
          Stop
        </button>
      )}
      {!session.reviewing && session.reviewStopped && (
        <span className="flex shrink-0 items-center gap-2 text-rust">
          The review was stopped; findings and gauges are those of before.
          <button type="button" className="press text-xs" onClick={session.reviewAnew}>
            Review it
          </button>
        </span>
      )}
    </span>
  );
}
