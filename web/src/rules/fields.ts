/** The fields of a rule in reading order, and the four groups the stack shows them in. */
export type FieldInfo = { key: string; label: string; kind: string; group: Group };
export type Group = "From" | "To" | "Using" | "When";

/** A choice as it is read on screen; the others are called what they are. */
export function shown(choice: string): string {
  return { log: "logged", quiet: "not logged" }[choice] ?? choice;
}

export const GROUPS: Group[] = ["From", "To", "Using", "When"];

export const FIELDS: FieldInfo[] = [
  { key: "from.zones", label: "zone", kind: "zone", group: "From" },
  { key: "from.networks", label: "network", kind: "network", group: "From" },
  { key: "from.people", label: "person", kind: "person", group: "From" },
  { key: "from.devices", label: "device", kind: "device", group: "From" },
  { key: "to.zones", label: "zone", kind: "zone", group: "To" },
  { key: "to.networks", label: "network", kind: "network", group: "To" },
  { key: "to.sites", label: "site", kind: "site", group: "To" },
  { key: "using.applications", label: "application", kind: "application", group: "Using" },
  { key: "using.services", label: "service", kind: "service", group: "Using" },
  { key: "when.times", label: "time", kind: "time", group: "When" },
];

/** The kinds of value that can be kept in a named set. */
export const SET_KINDS = ["network", "person", "device", "site", "service", "application", "time"];

/** A value as a chip shows it: without the word that only says what it is. */
export function chipText(value: string): string {
  return value.replace(/^(set|group|family|category|host|country|list|where) /, "");
}
