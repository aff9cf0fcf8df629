import { useSyncExternalStore } from "react";

/** What can be asked of each page, by what it is called in the address bar. */
const PARAMETERS = {
  rule: "rule",
  probe: "probe",
  draft: "draft",
  find: "find",
  base: "in",
  who: "who",
  what: "what",
  from: "from",
  to: "to",
} as const;

type Parameter = keyof typeof PARAMETERS;

const ALL = Object.keys(PARAMETERS) as Parameter[];

/** What means something only on the page it was asked on. */
const OF_A_PAGE: Parameter[] = ["draft", "who", "what", "from", "to"];

/** What the address bar says: a page, and what is asked of it, so that a view can be shared. */
export type Address = { page: string } & { [key in Parameter]?: string };

/** A page as one finds it when one comes for the first time; what is probed stays down. */
export const NOTHING_ASKED: Partial<Address> = {
  rule: undefined,
  find: undefined,
  who: undefined,
  what: undefined,
  from: undefined,
  to: undefined,
};

const listeners = new Set<() => void>();

function subscribe(listener: () => void) {
  listeners.add(listener);
  window.addEventListener("popstate", listener);
  return () => {
    listeners.delete(listener);
    window.removeEventListener("popstate", listener);
  };
}

/** The address now. */
export function readAddress(): Address {
  const query = new URLSearchParams(window.location.search);
  const address: Address = { page: window.location.pathname.split("/")[1] || "rulebase" };
  for (const parameter of ALL) {
    const value = query.get(PARAMETERS[parameter]);
    if (value !== null) address[parameter] = value;
  }
  return address;
}

/** Where a change of the address leads, as a link. */
export function hrefOf(change: Partial<Address>): string {
  const old = readAddress();
  const turned = change.page !== undefined && change.page !== old.page;
  const kept = turned ? { ...old, ...Object.fromEntries(OF_A_PAGE.map((one) => [one, undefined])) } : old;
  const next = { ...kept, ...change };
  const query = new URLSearchParams();
  for (const parameter of ALL) {
    const value = next[parameter];
    if (value) query.set(PARAMETERS[parameter], value);
  }
  const text = query.toString();
  return `/${next.page === "rulebase" ? "" : next.page}${text ? `?${text}` : ""}`;
}

/** Goes somewhere; a change of page can be gone back from, a change of selection cannot. */
export function goTo(change: Partial<Address>): void {
  const old = readAddress();
  const turned = change.page !== undefined && change.page !== old.page;
  const url = hrefOf(change);
  if (turned) window.history.pushState(null, "", url);
  else window.history.replaceState(null, "", url);
  for (const listener of listeners) listener();
}

/** The address, and again whenever it changes. */
export function useAddress(): Address {
  useSyncExternalStore(subscribe, () => window.location.href);
  return readAddress();
}
