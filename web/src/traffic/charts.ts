import type { OpenRulebase } from "../session/contexts";

/** What traffic is summed up by, in the order of the questions: what, who, where, what happens. */
export const CHARTS: [string, string][] = [
  ["application", "Application"],
  ["recognised", "Recognised"],
  ["verdict", "What happens to it"],
  ["person", "Person"],
  ["group", "Group"],
  ["rule", "Caught by"],
  ["from zone", "From zone"],
  ["to zone", "To zone"],
  ["category", "Category"],
  ["host", "Host name"],
  ["site category", "Site category"],
  ["device", "Device"],
  ["feature", "Feature"],
  ["service", "Service"],
  ["source", "From address"],
  ["tape", "Tape"],
];

const VERDICTS = new Set(["allow", "deny", "reject", "ask", "stop", "enrol"]);

/** Whether a word is a verdict, and not that it depends or cannot be run. */
export const isVerdict = (word: string) => VERDICTS.has(word);

/** A value as it is read: rules by number and name. */
export function labelled(openRulebase: OpenRulebase, by: string, value: string): string {
  if (by !== "rule" || value === "default verdict" || value === "it depends" || value === "cannot be run")
    return value;
  return openRulebase.named(value);
}
