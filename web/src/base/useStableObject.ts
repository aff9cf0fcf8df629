import { useMemo } from "react";

/** The very object that it was before, as long as everything in it is the same; its members are always the same ones. */
export function useStableObject<T extends object>(now: T): T {
  return useMemo(() => now, Object.values(now));
}
