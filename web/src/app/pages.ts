/** The places there are, as the address bar and people call them. */
export const PAGES: [string, string][] = [
  ["rulebase", "Rulebase"],
  ["sets", "Named sets"],
  ["shared", "Sheets and lanes"],
  ["catalogue", "Catalogue"],
  ["reach", "Reach"],
  ["promises", "Promises"],
  ["traffic", "Traffic"],
  ["history", "History"],
];
