import { ofWindow } from "../base/storage";
import type { Place } from "../rules/order";

/**
 * What is being typed into a rule, kept in this window until it is kept for good or let go, so that a reload loses
 * nothing. There is one at a time, for one rule is open at a time. `before` is what the rule said, and `base` the
 * revision it said it at, when it was opened: only what differs from that is one's own, whatever others did since.
 */
export type SavedDraft<T> = { rule?: string; place?: Place; draft: T; before?: T; base?: number };

const key = (rulebase: string) => `unkept ${rulebase}`;

/** What was being typed when the page went away. */
export function readSavedDraft<T>(rulebase: string): SavedDraft<T> | undefined {
  try {
    return JSON.parse(ofWindow.get(key(rulebase)) ?? "null") ?? undefined;
  } catch {
    return undefined;
  }
}

export function writeSavedDraft<T>(rulebase: string, savedDraft: SavedDraft<T>): void {
  ofWindow.set(key(rulebase), JSON.stringify(savedDraft));
}

export function dropSavedDraft(rulebase: string): void {
  ofWindow.remove(key(rulebase));
}
