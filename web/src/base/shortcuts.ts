import type { Action } from "./actions";
import { isCommand } from "./keys";

/** The pages that have keys of their own; those of "everywhere" work on all. */
export type Where =
  | "everywhere"
  | "rulebase"
  | "editor"
  | "sets"
  | "catalogue"
  | "traffic"
  | "reach"
  | "history";

/**
 * A shortcut: where it works, which keys are it, how it is written, and what it does. A key is as in the standard for
 * KeyboardEvent.key, with Mod (Ctrl, or ⌘ where keyboards have it), Alt and Shift before it; a capital letter says Shift
 * by itself. Where no keys stand, the browser or a library takes them, and the line is there to be read.
 */
type Shortcut = { where: Where; keys: string[]; written: string; does: string };

/** All keys of the application: the one table that makes them work and that help, tooltips and palette are read from. */
export const SHORTCUTS = {
  palette: { where: "everywhere", keys: ["Mod+k"], written: "Ctrl K", does: "Everything by name" },
  undo: { where: "everywhere", keys: ["Mod+z"], written: "Ctrl Z", does: "Undo" },
  redo: { where: "everywhere", keys: ["Mod+Shift+z"], written: "Ctrl Shift Z", does: "Redo" },
  figures: {
    where: "everywhere",
    keys: ["#"],
    written: "#",
    does: "Figures beside the pictures, or no longer",
  },
  help: { where: "everywhere", keys: ["?"], written: "?", does: "Show the keys of this page" },

  down: { where: "rulebase", keys: ["ArrowDown", "j"], written: "↓ or j", does: "Down the rules" },
  up: { where: "rulebase", keys: ["ArrowUp", "k"], written: "↑ or k", does: "Up the rules" },
  pageDown: { where: "rulebase", keys: ["PageDown"], written: "Page ↓", does: "Ten rules down" },
  pageUp: { where: "rulebase", keys: ["PageUp"], written: "Page ↑", does: "Ten rules up" },
  first: { where: "rulebase", keys: ["Home"], written: "Home", does: "To the first rule" },
  last: { where: "rulebase", keys: ["End"], written: "End", does: "To the default verdict" },
  edit: {
    where: "rulebase",
    keys: ["Enter"],
    written: "Enter",
    does: "Edit the rule, or fold the chapter",
  },
  newBelow: { where: "rulebase", keys: ["n"], written: "n", does: "New rule" },
  newAbove: { where: "rulebase", keys: ["N"], written: "N", does: "New rule above" },
  clone: {
    where: "rulebase",
    keys: ["c"],
    written: "c",
    does: "Clone the rule; the clone is a draft first",
  },
  copy: { where: "rulebase", keys: ["Mod+c"], written: "Ctrl C", does: "Copy rules as text" },
  paste: {
    where: "rulebase",
    keys: [],
    written: "Ctrl V",
    does: "Paste rules below this one: first you read their impact, Enter saves",
  },
  moveUp: {
    where: "rulebase",
    keys: ["Alt+ArrowUp", "Alt+k"],
    written: "Alt ↑",
    does: "Move the rule, or the chapter, up",
  },
  moveDown: {
    where: "rulebase",
    keys: ["Alt+ArrowDown", "Alt+j"],
    written: "Alt ↓",
    does: "Move the rule, or the chapter, down",
  },
  extendUp: {
    where: "rulebase",
    keys: ["Shift+ArrowUp"],
    written: "Shift ↑",
    does: "Choose the rule above too",
  },
  extendDown: {
    where: "rulebase",
    keys: ["Shift+ArrowDown"],
    written: "Shift ↓",
    does: "Choose the rule below too",
  },
  choose: { where: "rulebase", keys: ["v"], written: "v", does: "Choose this rule, or no longer" },
  switching: { where: "rulebase", keys: ["x"], written: "x", does: "Switch the rule off or on" },
  remove: { where: "rulebase", keys: ["Delete"], written: "Del", does: "Remove the rule" },
  nextFinding: { where: "rulebase", keys: ["f"], written: "f", does: "Next finding" },
  tryWitness: {
    where: "rulebase",
    keys: ["t"],
    written: "t",
    does: "Try the first witness in the lens",
  },
  filter: { where: "rulebase", keys: ["/"], written: "/", does: "Show only some rules" },
  unreleased: {
    where: "rulebase",
    keys: ["u"],
    written: "u",
    does: "Show only what is not as in force, or everything again",
  },
  probe: {
    where: "rulebase",
    keys: ["p"],
    written: "p",
    does: "Write a probe; a sentence that begins with a verdict writes a rule",
  },
  foretell: {
    where: "rulebase",
    keys: ["w"],
    written: "w",
    does: "What the keys that edit at once would do to the rule",
  },
  lastEdit: { where: "rulebase", keys: ["e"], written: "e", does: "What the last edit did" },
  nothing: {
    where: "rulebase",
    keys: ["Escape"],
    written: "Escape",
    does: "Cancel what is being edited, or choose nothing",
  },

  save: { where: "editor", keys: ["Mod+Enter"], written: "Ctrl Enter", does: "Save the rule" },
  saveBetter: {
    where: "editor",
    keys: ["Alt+Enter"],
    written: "Alt Enter",
    does: "Save a new rule in the better place that is proposed",
  },
  cancel: { where: "editor", keys: ["Escape"], written: "Escape", does: "Cancel" },
  nextPart: { where: "editor", keys: ["Alt+ArrowDown"], written: "Alt ↓", does: "The next part of the rule" },
  partBefore: { where: "editor", keys: ["Alt+ArrowUp"], written: "Alt ↑", does: "The part before" },

  addValue: { where: "sets", keys: [], written: "Enter", does: "Add what is marked in the list" },
  takeValue: { where: "sets", keys: [], written: "Backspace", does: "Take the last value away" },
  openField: {
    where: "catalogue",
    keys: [],
    written: "Tab, Enter",
    does: "Choose a field of the map, then an application",
  },
  backToWords: {
    where: "catalogue",
    keys: [],
    written: "Shift Tab",
    does: "Back to the words and zones one asks about",
  },
  openConnections: {
    where: "traffic",
    keys: [],
    written: "Tab, Enter",
    does: "Narrow to a bar, or open a rule's connections; Enter on one tries it",
  },
  chooseTime: {
    where: "traffic",
    keys: [],
    written: "← →, Shift ← →",
    does: "On the strip of time: choose a step, or a stretch; Escape for all of it",
  },
  openHole: {
    where: "reach",
    keys: [],
    written: "Tab, Enter",
    does: "Open a hole: who uses what there, and by which rule",
  },
  compare: { where: "history", keys: [], written: "Tab, ↑ ↓", does: "Choose the revisions to compare" },
} as const satisfies Record<string, Shortcut>;

export type ShortcutName = keyof typeof SHORTCUTS;

type Pressed = Pick<KeyboardEvent, "key" | "ctrlKey" | "metaKey" | "altKey" | "shiftKey">;

/** Which shortcut of a place some keys are; nothing if none. */
export function shortcutOf(pressed: Pressed, where: Where): ShortcutName | undefined {
  const names = Object.keys(SHORTCUTS) as ShortcutName[];
  return names.find((name) => {
    const shortcut: Shortcut = SHORTCUTS[name];
    return shortcut.where === where && shortcut.keys.some((keys) => arePressed(keys, pressed));
  });
}

function arePressed(keys: string, pressed: Pressed): boolean {
  const parts = keys.split("+");
  const key = parts.pop() ?? "";
  const wants = (part: string) => parts.includes(part);
  // With Ctrl and Shift some keyboards say z and some Z; a sign such as ? says by itself that Shift is held.
  const alike = parts.length > 0 ? key.toLowerCase() === pressed.key.toLowerCase() : key === pressed.key;
  const signs = key.length === 1 && parts.length === 0;
  return (
    alike &&
    wants("Mod") === isCommand(pressed) &&
    wants("Alt") === pressed.altKey &&
    (signs || wants("Shift") === pressed.shiftKey)
  );
}

/** Runs what a place does on some keys, and keeps the browser from doing something else; whether there was something. */
export function press(
  event: Pressed & { preventDefault: () => void },
  where: Where,
  does: Partial<Record<ShortcutName, (() => void) | undefined>>,
): boolean {
  const name = shortcutOf(event, where);
  const run = name && does[name];
  if (!run) return false;
  event.preventDefault();
  run();
  return true;
}

/** How a shortcut is written, for a tooltip or the palette. */
export const written = (name: ShortcutName): string => SHORTCUTS[name].written;

/** The keys of some places and what they do, for reading. */
export function keysOf(...places: Where[]): { written: string; does: string }[] {
  return places.flatMap((where) => Object.values(SHORTCUTS).filter((shortcut) => shortcut.where === where));
}

/** What shortcuts do, by name, for the palette. */
export const byName = (does: Partial<Record<ShortcutName, (() => void) | undefined>>): Action[] =>
  (Object.keys(does) as ShortcutName[]).flatMap((name) => {
    const run = does[name];
    return run ? [{ name: SHORTCUTS[name].does, key: SHORTCUTS[name].written, run }] : [];
  });
