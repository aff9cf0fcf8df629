import { useQuery } from "@tanstack/react-query";
import { useRef } from "react";
import { ApiError, api, type Head, type Review } from "../api/client";
import { useAddressPart } from "../base/address";
import { useSettled } from "../base/useSettled";
import { later } from "../rules/known";

/** After so many milliseconds without another edit, what else is shown of the rulebase is asked for, and then what the edit did. */
const PAUSED = 250;
const RESTED = 400;

const NO_HEADS: Head[] = [];

/** Edits that followed each other, of which it is told together what they did. */
export type Done = { id: string; since: number; revision: number };

/**
 * What the server has of the open rulebase, asked for again whenever its state is another: the review first, then what
 * hangs on it. The server says when somebody else has made a newer revision.
 */
export function useRulebaseQueries(
  id: string,
  who: string,
  done: Done | undefined,
  heads: Head[] | undefined,
) {
  const probe = useAddressPart("probe");
  const anew = useRef(false);
  const reviewed = useRef<{ id: string; review: Review }>(undefined);
  const rulebase = useQuery({
    queryKey: ["rulebase", id, who],
    queryFn: () => api.rulebase(id, who),
    enabled: id !== "",
    // What stays the same in it stays the same object by itself; see applied().
    structuralSharing: false,
  });
  const revision = rulebase.data?.revision;
  const state = rulebase.data?.state;
  const reviewOf = (state?: string) => ({
    queryKey: ["review", id, state],
    queryFn: async () => {
      const before = reviewed.current?.id === id ? reviewed.current.review : undefined;
      const review = later(before, await api.review(id, before?.state, anew.current));
      anew.current = false;
      reviewed.current = { id, review };
      return review;
    },
    // One that somebody has stopped is not begun again by itself.
    retry: (failures: number, error: Error) => failures < 1 && !isStopped(error),
    structuralSharing: false,
  });
  const review = useQuery({
    ...reviewOf(state),
    enabled: state !== undefined,
    placeholderData: (before: Review | undefined) => before,
  });
  const fall = useQuery({
    queryKey: ["fall", id, state, probe],
    queryFn: () => api.probe(id, probe ?? ""),
    enabled: revision !== undefined && !!probe,
    retry: false,
    // The same probe beside another state; what another probe did is nothing to do with this one.
    placeholderData: (before, query) => (query?.queryKey[3] === probe ? before : undefined),
  });
  // The review comes before anything else; where somebody has stopped it, nothing waits for it.
  const paused = useSettled(review.isFetching ? undefined : state, PAUSED);
  const promises = useQuery({
    queryKey: ["promises", id, paused],
    queryFn: () => api.promises(id),
    enabled: paused !== undefined,
    placeholderData: (before) => before,
  });
  const hits = useQuery({
    queryKey: ["hits", id, paused],
    queryFn: () => api.hits(id),
    enabled: paused !== undefined && review.data?.state === paused,
    placeholderData: (before) => before,
  });
  // Asked again after each edit, and by whoever hears of a release or a gateway.
  const inForce = useQuery({
    queryKey: ["in-force", id, paused],
    queryFn: () => api.inForce(id),
    enabled: paused !== undefined,
    placeholderData: (before) => before,
  });
  // What an edit did is asked when nothing else is to be done, and not at all while others follow it.
  const rested = useSettled(review.data?.revision, RESTED);
  const did = useQuery({
    queryKey: ["between", id, done?.since, done?.revision],
    queryFn: ({ signal }) => api.between(id, done?.since ?? 0, done?.revision ?? 0, signal),
    enabled: done?.id === id && done.revision === revision && done.revision === rested,
    retry: false,
  });
  const head = heads?.find((head) => head.id === id);
  return {
    rulebase,
    revision,
    state,
    review,
    reviewOf,
    /** Has the next review made from scratch. */
    reviewAnew: () => {
      anew.current = true;
      review.refetch();
    },
    fall: probe ? fall.data : undefined,
    probeError: probe && fall.error instanceof ApiError ? fall.error.problem : undefined,
    promises: promises.data,
    hits: hits.data,
    inForce: inForce.data ?? undefined,
    did: done?.id === id && done.revision === revision ? did.data : undefined,
    heads: heads ?? NO_HEADS,
    head,
    paused,
  };
}

/** Whether a review ended because somebody stopped it. */
export function isStopped(error: unknown): boolean {
  return error instanceof ApiError && error.problem.type.endsWith("/stopped");
}
