import { useSyncExternalStore } from "react";

/** What the address bar says: a page, and what is selected and probed on it, so that a view can be shared. */
export type Address = { page: string; rule?: string; probe?: string; find?: string; base?: string };

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
  return {
    page: window.location.pathname.split("/")[1] || "rulebase",
    rule: query.get("rule") ?? undefined,
    probe: query.get("probe") ?? undefined,
    find: query.get("find") ?? undefined,
    base: query.get("in") ?? undefined,
  };
}

/** Goes somewhere; a change of page can be gone back from, a change of selection cannot. */
export function goTo(change: Partial<Address>): void {
  const old = readAddress();
  const next = { ...old, ...change };
  const query = new URLSearchParams();
  if (next.rule) query.set("rule", next.rule);
  if (next.probe) query.set("probe", next.probe);
  if (next.find) query.set("find", next.find);
  if (next.base) query.set("in", next.base);
  const text = query.toString();
  const url = `/${next.page === "rulebase" ? "" : next.page}${text ? `?${text}` : ""}`;
  if (old.page === next.page) window.history.replaceState(null, "", url);
  else window.history.pushState(null, "", url);
  for (const listener of listeners) listener();
}

/** The address, and again whenever it changes. */
export function useAddress(): Address {
  useSyncExternalStore(subscribe, () => window.location.href);
  return readAddress();
}
