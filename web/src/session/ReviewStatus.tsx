import { useQuery } from "@tanstack/react-query";
import { memo, useEffect, useState } from "react";
import { api } from "../api/client";
import { ProgressBar } from "../base/ProgressBar";
import type { Answers, Told } from "./contexts";

/** A wait shorter than this needs no bar. */
const PATIENCE = 400;

type Props = Pick<Told, "said" | "keeping" | "reviewing" | "reviewStopped"> &
  Pick<Answers, "stopReview" | "reviewAnew"> & { id: string };

/** What happened last, and whether it is kept; while a review takes long, how far it is, and the way to stop it. */
export const ReviewStatus = memo(function ReviewStatus({
  id,
  said,
  keeping,
  reviewing,
  reviewStopped,
  stopReview,
  reviewAnew,
}: Props) {
  const [long, setLong] = useState(false);
  useEffect(() => {
    if (!reviewing) return setLong(false);
    const timer = setTimeout(() => setLong(true), PATIENCE);
    return () => clearTimeout(timer);
  }, [reviewing]);
  const progress = useQuery({
    queryKey: ["progress", id],
    queryFn: () => api.progress(id),
    enabled: long,
    refetchInterval: 250,
    gcTime: 0,
  });
  const { done, total } = (long && progress.data) || { done: 0, total: 0 };
  return (
    <span className="flex min-w-0 items-center gap-2 text-dim text-xs">
      <span className="truncate" role="status" aria-label="What happened">
        {reviewing ? "Reviewing …" : said}
      </span>
      {keeping && <span className="late shrink-0 text-rust">what you did last is not kept yet …</span>}
      <ProgressBar label="Rules reviewed" done={done} total={total} />
      {long && (
        <button type="button" className="press text-xs" onClick={stopReview}>
          Stop
        </button>
      )}
      {!reviewing && reviewStopped && (
        <span className="flex shrink-0 items-center gap-2 text-rust">
          The review was stopped; findings and gauges are those of before.
          <button type="button" className="press text-xs" onClick={reviewAnew}>
            Review it
          </button>
        </span>
      )}
    </span>
  );
});
