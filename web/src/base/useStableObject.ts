import { useRef } from "react";

/** The very object that it was before, as long as everything in it is the same. */
export function useStableObject<T extends object>(now: T): T {
  const known = useRef(now);
  const keys = Object.keys(now) as (keyof T)[];
  if (keys.some((key) => !Object.is(known.current[key], now[key]))) known.current = now;
  return known.current;
}
