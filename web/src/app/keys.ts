import { useEffect, useRef } from "react";

let singleKeys = true;

/** Whether keys that are a single character do anything; whoever speaks to a computer may want them off. */
export function setSingleKeys(on: boolean): void {
  singleKeys = on;
}

/** Whether a key is one that somebody has switched off (WCAG 2.1.4). */
export function isSwitchedOff(event: {
  key: string;
  ctrlKey: boolean;
  metaKey: boolean;
  altKey: boolean;
}): boolean {
  return !singleKeys && event.key.length === 1 && !event.altKey && !isCommand(event);
}

/** Listens to keys wherever they are pressed, always with what the page knows now. */
export function useWindowKeys(keys: (event: KeyboardEvent) => void): void {
  const latest = useRef(keys);
  latest.current = keys;
  useEffect(() => {
    const listener = (event: KeyboardEvent) => {
      if (!isSwitchedOff(event)) latest.current(event);
    };
    window.addEventListener("keydown", listener);
    return () => window.removeEventListener("keydown", listener);
  }, []);
}

/** Whether somebody is typing text there, so that letters are letters and not keys. */
export function isTyping(target: EventTarget | null): boolean {
  if (target instanceof HTMLInputElement) return !["checkbox", "radio", "button"].includes(target.type);
  return target instanceof HTMLElement && /TEXTAREA|SELECT/.test(target.tagName);
}

/** Whether the key for commands is held: Ctrl, or ⌘ where keyboards have it. */
export function isCommand(event: { ctrlKey: boolean; metaKey: boolean }): boolean {
  return event.ctrlKey || event.metaKey;
}

/** Keys and what they do. */
export type Keys = [string, string][];

/** The keys that work everywhere. */
export const EVERYWHERE: Keys = [
  ["Ctrl K", "everything by name"],
  ["Ctrl Z / Ctrl Shift Z", "undo / redo"],
  ["#", "figures beside the pictures, or no longer"],
  ["?", "the keys of the place you are in"],
];

/** The keys of each place. */
export const PLACES: Record<string, Keys> = {
  rulebase: [
    ["↑ ↓ or j k", "go up and down the rules"],
    ["Enter", "edit the rule, or fold the chapter"],
    ["n / N", "new rule below / above"],
    ["c", "clone the rule; the clone is a draft first"],
    [
      "Ctrl C / Ctrl V",
      "copy rules as text / paste them below the rule: first you read their impact, Enter saves",
    ],
    ["Alt ↑ / Alt ↓", "move the rule, or the chapter"],
    ["Shift ↑ ↓, v", "choose several rules to work on"],
    ["x", "switch the rule off or on"],
    ["Delete", "remove the rule"],
    ["f", "next finding"],
    ["/", "show only some rules"],
    ["p", "to the probe line; a sentence that begins with a verdict writes a rule"],
    ["Ctrl Enter", "save what is being edited"],
    ["Alt Enter", "put a new rule in the better place that is proposed"],
    ["w", "what the keys that edit at once would do to the rule"],
    ["e", "what the last edit did"],
    ["Escape", "cancel what is being edited, or choose nothing"],
  ],
  sets: [
    ["Enter", "add what is marked in the list"],
    ["Backspace", "take the last value away"],
  ],
  catalogue: [
    ["Tab, Enter", "choose a field of the map, then an application"],
    ["Shift Tab", "back to the words and zones one asks about"],
  ],
  traffic: [["Tab, Enter", "open a rule's connections; Enter on one tries it"]],
  reach: [["Tab, Enter", "open a hole: who uses what there, and by which rule"]],
  history: [["Tab, ↑ ↓", "choose the revisions to compare"]],
};
