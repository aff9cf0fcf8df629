import { fireEvent, screen, waitFor } from "@testing-library/react";
import { beforeAll, beforeEach, describe, expect, it, vi } from "vitest";
import { lasting } from "../base/storage";
import { blankRule, NO_IMPACT, rulebaseOf } from "../samples";
import { answers, show, withServer } from "../testing";
import { AppShell } from "./AppShell";

type Fiber = {
  tag: number;
  flags: number;
  type: { name?: string; type?: { name?: string } } | null;
  alternate: Fiber | null;
  child: Fiber | null;
  sibling: Fiber | null;
};

/** The components that were drawn since it was emptied; the library tells those who listen, before it is loaded. */
const drawn = vi.hoisted(() => {
  const names: string[] = [];
  const PERFORMED_WORK = 1;
  const COMPONENTS = [0, 11, 15];
  const walk = (now: Fiber, before: Fiber | null) => {
    const isDrawn = before === null || (now.flags & PERFORMED_WORK) !== 0;
    if (COMPONENTS.includes(now.tag) && isDrawn) names.push(now.type?.name ?? now.type?.type?.name ?? "");
    if (before !== null && now.child === before.child) return;
    for (let child = now.child; child; child = child.sibling) walk(child, child.alternate);
  };
  Object.assign(globalThis, {
    // Asked for as soon as the page is loaded.
    matchMedia: () => ({
      matches: false,
      addEventListener: () => undefined,
      removeEventListener: () => undefined,
    }),
    __REACT_DEVTOOLS_GLOBAL_HOOK__: {
      supportsFiber: true,
      inject: () => 1,
      onCommitFiberUnmount: () => undefined,
      onPostCommitFiberRoot: () => undefined,
      onCommitFiberRoot: (_: number, root: { current: Fiber }) => walk(root.current, root.current.alternate),
    },
  });
  return names;
});

withServer();

const RULES = 12;

const rules = Array.from({ length: RULES }, (_, i) => blankRule(`r${i}`, i + 1, { name: `Rule of ${i}` }));
const rulebase = {
  ...rulebaseOf({ id: "one", title: "One", note: "", rules }),
  id: "b",
  undo: "added rule Ferry",
};
const head = { id: "b", name: "B", standing: "active", revision: 4, state: "four" };

/** How often a component was drawn. */
const times = (name: string) => drawn.filter((one) => one === name).length;

/** What is on the page but does not show which rule is selected. */
const AROUND = ["Header", "TourStep", "ProbeLine", "ReviewStatus", "LastEditWord"];

describe("what is drawn again", () => {
  beforeAll(() => {
    // jsdom has no layout; the list draws what fits into these.
    for (const side of ["clientHeight", "clientWidth"])
      Object.defineProperty(HTMLElement.prototype, side, { configurable: true, get: () => 900 });
    HTMLElement.prototype.scrollTo = () => undefined;
    HTMLCanvasElement.prototype.getContext = () => null;
  });
  beforeEach(async () => {
    lasting.set("tour", "left");
    Object.assign(answers, {
      "rulebases/b/review": { revision: 4, state: "four", rules: {}, steps: 1000 },
      "rulebases/b/promises": [],
      "rulebases/b/hits": {
        revision: 4,
        state: "four",
        rules: {},
        defaultVerdict: { times: 3 },
        times: 3,
        days: 0,
        tapes: [],
        possible: {},
      },
      "rulebases/b/rules": { revision: 4, findings: [] },
      "rulebases/b/impact": NO_IMPACT,
      "rulebases/b/journal": [],
      "rulebases/b/caught": { times: 0, lines: [] },
      "rulebases/b": rulebase,
      rulebases: [head],
    });
    window.history.replaceState(null, "", "/r/b/");
    show(<AppShell />);
    await screen.findByText("Rule of 3");
    // What hangs on the review comes last.
    await screen.findByText("3 hits");
  });

  it("is, when another rule is selected, what shows the selection", async () => {
    fireEvent.keyDown(document.body, { key: "j" });
    fireEvent.keyDown(document.body, { key: "j" });
    await waitFor(() => expect(row("r0").getAttribute("aria-selected")).toBe("true"));
    drawn.length = 0;
    for (const next of ["r1", "r2", "r3", "r4", "r5", "r6"]) {
      fireEvent.keyDown(document.body, { key: "j" });
      await waitFor(() => expect(row(next).getAttribute("aria-selected")).toBe("true"));
    }
    expect(times("RuleRow"), "each time the row that was selected and the one that is").toBe(12);
    expect(times("Lens")).toBeGreaterThan(0);
    expect(AROUND.filter((name) => times(name) > 0)).toEqual([]);
    expect(times("AppShell"), "for a timer that runs out in between, but not for each key").toBeLessThan(4);
  });

  it("is, when something is typed into the probe line, the probe line", async () => {
    answers["probe/completions"] = { from: 0, choices: [] };
    drawn.length = 0;
    fireEvent.change(screen.getByLabelText("Probe"), { target: { value: "from Offices" } });
    await waitFor(() => expect(times("ProbeLine")).toBeGreaterThan(0));
    expect(["Header", "Stack", "RuleRow", "Lens"].filter((n) => times(n) > 0)).toEqual([]);
  });

  it("is, when a pointer lingers on a button, what says what the button would do", async () => {
    fireEvent.keyDown(document.body, { key: "j" });
    fireEvent.keyDown(document.body, { key: "j" });
    await waitFor(() => expect(row("r0").getAttribute("aria-selected")).toBe("true"));
    drawn.length = 0;
    fireEvent.pointerEnter(screen.getByRole("button", { name: "Down" }));
    await screen.findByRole("status", { name: "What it would do" });
    expect(["Header", "ProbeLine", "Stack", "RuleRow", "Lens"].filter((name) => times(name) > 0)).toEqual([]);
  });
});

function row(id: string): HTMLElement {
  const found = document.querySelector<HTMLElement>(`[data-rule="${id}"]`);
  if (!found) throw new Error(`no row of ${id}`);
  return found;
}
