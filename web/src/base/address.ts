import { useSyncExternalStore } from "react";
import { WORKSPACE_PAGES } from "./pages";

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

/** What the path of a rulebase's pages begins with. */
const OF_RULEBASE = "r";

/** The pages that stand beside all rulebases. */
const BESIDE = new Set(WORKSPACE_PAGES.map(([page]) => page).filter((page) => page !== "catalogue"));

/** Whether a page belongs to the workspace and not to a rulebase. */
export const isBeside = (page: string) => BESIDE.has(page);

const listeners = new Set<() => void>();

function subscribe(listener: () => void) {
  listeners.add(listener);
  window.addEventListener("popstate", listener);
  return () => {
    listeners.delete(listener);
    window.removeEventListener("popstate", listener);
  };
}

/** What stands between the slashes; something that is no text any more counts as nothing. */
function parts(path: string): string[] {
  try {
    return path.split("/").filter(Boolean).map(decodeURIComponent);
  } catch {
    return [];
  }
}

/** The address now: a page of one rulebase stands below it, as in /r/main-gateway/sets, and others beside. */
export function readAddress(): Address {
  const query = new URLSearchParams(window.location.search);
  const path = parts(window.location.pathname);
  const below = path[0] === OF_RULEBASE && path[1] !== undefined;
  const address: Address = { page: (below ? path[2] : path[0]) || "rulebase" };
  if (below) address.base = path[1];
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
  const below = next.base !== undefined && !isBeside(next.page);
  // What the address has besides, for whatever reason, stays as long as the page does.
  const query = new URLSearchParams(turned ? "" : window.location.search);
  for (const parameter of ALL) query.delete(PARAMETERS[parameter]);
  for (const parameter of ALL) {
    const value = next[parameter];
    if (value && !(below && parameter === "base")) query.set(PARAMETERS[parameter], value);
  }
  const text = query.toString();
  const start = below ? `/${OF_RULEBASE}/${encodeURIComponent(next.base ?? "")}/` : "/";
  return `${start}${next.page === "rulebase" ? "" : next.page}${text ? `?${text}` : ""}`;
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

/** One part of the address, and again whenever that changes; nothing is drawn for a change of the others. */
export function useAddressPart<P extends keyof Address>(part: P): Address[P] {
  return useSyncExternalStore(subscribe, () => readAddress()[part]);
}
