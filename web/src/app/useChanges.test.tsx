// @vitest-environment jsdom
import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { act, cleanup, renderHook } from "@testing-library/react";
import type { ReactNode } from "react";
import { afterEach, beforeEach, expect, it, vi } from "vitest";
import { FOLLOWED, useChanges } from "./useChanges";

/** Events from a server that is not there. */
class Events extends EventTarget {
  static all: Events[] = [];
  closed = false;
  constructor(readonly address: string) {
    super();
    Events.all.push(this);
  }
  close() {
    this.closed = true;
  }
}

const visible = (state: string) => {
  Object.defineProperty(document, "visibilityState", { value: state, configurable: true });
  document.dispatchEvent(new Event("visibilitychange"));
};

let asked: unknown[];

beforeEach(() => {
  vi.useFakeTimers();
  vi.stubGlobal("EventSource", Events);
  Events.all = [];
  asked = [];
  visible("visible");
  const client = new QueryClient();
  client.invalidateQueries = async ({ queryKey } = {}) => {
    asked.push(queryKey?.[0]);
  };
  renderHook(() => useChanges(), {
    wrapper: ({ children }: { children: ReactNode }) => (
      <QueryClientProvider client={client}>{children}</QueryClientProvider>
    ),
  });
});

afterEach(() => {
  cleanup();
  vi.useRealTimers();
  vi.unstubAllGlobals();
});

const told = (what: string) => act(() => Events.all.at(-1)?.dispatchEvent(new Event(what)));
const wait = (millis: number) => act(() => vi.advanceTimersByTime(millis));

it("asks once for changes that follow each other, and no more often than once a second", () => {
  told("open");
  told("changed");
  wait(150);
  expect(asked).toEqual(FOLLOWED);
  told("changed");
  told("changed");
  wait(500);
  expect(asked).toHaveLength(FOLLOWED.length);
  wait(500);
  expect(asked).toHaveLength(2 * FOLLOWED.length);
});

it("keeps no connection while nobody looks, and catches up when somebody does", () => {
  visible("hidden");
  expect(Events.all[0].closed).toBe(true);
  visible("visible");
  expect(Events.all).toHaveLength(2);
  told("open");
  wait(150);
  expect(asked).toEqual(FOLLOWED);
});
