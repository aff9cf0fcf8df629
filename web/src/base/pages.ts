/** The places there are, as the address bar and people call them. */
export const PAGES: [string, string][] = [
  ["rulebase", "Rulebase"],
  ["sets", "Named sets"],
  ["shared", "Sheets and lanes"],
  ["reach", "Reach"],
  ["promises", "Promises"],
  ["traffic", "Traffic"],
  ["history", "History"],
];

/** The pages of what all rulebases are read against. */
export const WORKSPACE_PAGES: [string, string][] = [
  ["gateways", "Gateways"],
  ["releases", "Releases"],
  ["zones", "Zones"],
  ["directory", "Directory"],
  ["lists", "Lists"],
  ["sources", "Sources"],
  ["catalogue", "Catalogue"],
  ["jobs", "Jobs"],
];
