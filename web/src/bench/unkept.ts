import type { Place } from "./order";

/**
 * What is being typed into a rule, kept in this window until it is kept for good or let go, so that a reload loses
 * nothing. There is one at a time, for one rule is open at a time.
 */
export type Unkept<T> = { rule?: string; place?: Place; draft: T };

const key = (rulebase: string) => `unkept ${rulebase}`;

/** What was being typed when the page went away. */
export function readUnkept<T>(rulebase: string): Unkept<T> | undefined {
  try {
    return JSON.parse(sessionStorage.getItem(key(rulebase)) ?? "null") ?? undefined;
  } catch {
    return undefined;
  }
}

export function writeUnkept<T>(rulebase: string, unkept: Unkept<T>): void {
  sessionStorage.setItem(key(rulebase), JSON.stringify(unkept));
}

export function dropUnkept(rulebase: string): void {
  sessionStorage.removeItem(key(rulebase));
}
