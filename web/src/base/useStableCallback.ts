import { useCallback, useInsertionEffect, useRef } from "react";

/**
 * A function that stays the same from one drawing to the next and always does what the newest one does, so that nothing
 * is drawn again for being given it. For what is called later, by an event; not while something is drawn.
 */
export function useStableCallback<A extends unknown[], R>(work: (...args: A) => R): (...args: A) => R {
  const latest = useRef(work);
  useInsertionEffect(() => {
    latest.current = work;
  });
  return useCallback((...args: A) => latest.current(...args), []);
}
