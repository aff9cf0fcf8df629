import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { cleanup, configure, render } from "@testing-library/react";
import { Tooltip } from "radix-ui";
import type { ReactElement } from "react";
import { afterEach, beforeAll, beforeEach, vi } from "vitest";
import type { Rulebase } from "./api/client";
import { type Answers, type Edits, type OpenRulebase, OpenRulebaseProvider } from "./session/contexts";

// Room for a slow machine, on which the compiler is at work beside; what is waited for is always a state, never a time.
configure({ asyncUtilTimeout: 20_000 });

/** Answers of the server, by the beginning of the path; what is not there is a failure. */
export const answers: Record<string, unknown> = {};

/** What the server was asked, in order. */
export const asked: { path: string; body: unknown }[] = [];

/** What a part of the screen is shown within; what is not said is not there. */
export type Within = {
  openRulebase?: Partial<Omit<OpenRulebase, "rulebase">> & { rulebase?: Partial<Rulebase> };
  answers?: Partial<Answers>;
  edits?: Partial<Edits>;
};

/** Shows a part of the screen by itself. */
export function show(element: ReactElement, { openRulebase, answers = {}, edits = {} }: Within = {}) {
  const client = new QueryClient({ defaultOptions: { queries: { retry: false } } });
  return render(
    <QueryClientProvider client={client}>
      <Tooltip.Provider>{element}</Tooltip.Provider>
    </QueryClientProvider>,
    openRulebase && {
      wrapper: ({ children }) => (
        <OpenRulebaseProvider
          openRulebase={openRulebase as OpenRulebase}
          answers={answers as Answers}
          edits={edits as Edits}
        >
          {children}
        </OpenRulebaseProvider>
      ),
    },
  );
}

/** Puts a stand-in for the server before the tests of a file. */
export function withServer() {
  beforeAll(() => {
    // jsdom has no layout; the components only need these to exist.
    vi.stubGlobal(
      "ResizeObserver",
      class {
        observe() {}
        unobserve() {}
        disconnect() {}
      },
    );
    Element.prototype.scrollIntoView = () => undefined;
  });
  beforeEach(() => {
    asked.length = 0;
    for (const key of Object.keys(answers)) delete answers[key];
    vi.stubGlobal("fetch", async (request: Request) => {
      const { pathname, search } = new URL(request.url);
      const path = pathname.replace("/api/", "") + search;
      const sent = await request.text();
      const body = sent ? JSON.parse(sent) : undefined;
      asked.push({ path, body });
      const key = Object.keys(answers).find((start) => path.startsWith(start));
      const answer = key ? answers[key] : undefined;
      if (answer === undefined) return new Response("nothing there", { status: 500 });
      const status = (answer as { status?: number }).status ?? 200;
      return new Response(JSON.stringify(answer), { status });
    });
  });
  afterEach(cleanup);
}
